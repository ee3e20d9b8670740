#include "error.h"
#include "functions.h"
#include "number_text.h"
#include "over_time.h"
#include "recursive_filter.h"

#include <cmath>
#include <numbers>
#include <vector>

namespace fulvex {

namespace {

/// The signal times twice a cosine or sine of the carrier.
class Turned final : public OverTime {
public:
    Turned(SourcePtr source, double frequency, bool sine)
        : OverTime(std::move(source)), m_frequency(frequency), m_sine(sine)
    {
    }
    double readEffort() const override { return 4 + OverTime::readEffort(); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        argument().read(first, out);
        for (double &value : out) {
            const double cycles = m_frequency * double(first++),
                         angle = 2 * std::numbers::pi * (cycles - std::round(cycles));
            value = finite(2 * value * (m_sine ? -std::sin(angle) : std::cos(angle)));
        }
    }

private:
    double m_frequency; ///< cycles a sample
    bool m_sine;
};

/// Amplitude, or the turning from sample to sample, of a point that two sources give.
class Point final : public OverTime {
public:
    Point(SourcePtr x, SourcePtr y, bool amplitude) : OverTime(std::move(x)), m_y(std::move(y)), m_amplitude(amplitude)
    {
    }
    double readEffort() const override { return 2 + OverTime::readEffort() + m_y->readEffort(); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size());
        const std::int64_t from = std::max<std::int64_t>(0, first - 1), to = std::min(axis().count, last + 1);
        const auto x = values(from, to - from);
        std::vector<double> y(std::size_t(to - from));
        m_y->read(from, y);
        for (std::int64_t i = first; i < last; ++i) {
            const auto here = std::size_t(i - from);
            if (m_amplitude) {
                out[std::size_t(i - first)] = finite(std::hypot(x[here], y[here]));
                continue;
            }
            const auto isThere = [&](std::int64_t at) {
                return at >= from && at < to && x[std::size_t(at - from)] == x[std::size_t(at - from)];
            };
            const std::size_t before = here - std::size_t(isThere(i - 1)), behind = here + std::size_t(isThere(i + 1));
            const double turned = std::atan2(y[behind] * x[before] - x[behind] * y[before],
                                             x[behind] * x[before] + y[behind] * y[before]);
            // 0 / 0 without a neighbour
            out[std::size_t(i - first)] =
                isThere(i) ? finite(turned / (2 * std::numbers::pi * double(behind - before) * axis().interval)) : nan;
        }
    }

private:
    SourcePtr m_y;
    bool m_amplitude;
};

SourcePtr demodulated(const FormulaOver &of, bool amplitude)
{
    const SourcePtr &source = of.sources[0];
    const double rate = 1 / source->axis().interval, carrier = of.constants[0], bandwidth = of.constants[1];
    if (!(carrier > 0 && carrier < rate / 2))
        throw Error("", "a carrier at " + quantityText(carrier, "Hz") + " of samples at " + quantityText(rate, "Hz"),
                    "it lies between 0 and half the sample rate");
    if (!(bandwidth > 1e-6 * rate && bandwidth <= carrier && bandwidth < rate / 2))
        throw Error("",
                    "a bandwidth of " + quantityText(bandwidth, "Hz") + " about a carrier at " +
                        quantityText(carrier, "Hz"),
                    "give one below the carrier's frequency, and above a millionth of the sample rate");
    const FilterCascade filter =
        FilterCascade::made({FilterCascade::Kind::bessel, FilterPass::low, 4, bandwidth / rate, 0, true});
    const auto part = [&](bool sine) {
        return filteredBackward(recursivelyFiltered(std::make_shared<Turned>(source, carrier / rate, sine), filter, of),
                                filter, of);
    };
    return std::make_shared<Point>(part(false), part(true), amplitude);
}

} // namespace

SourcePtr amOf(const FormulaOver &of)
{
    return demodulated(of, true);
}

SourcePtr fmOf(const FormulaOver &of)
{
    return demodulated(of, false);
}

} // namespace fulvex
