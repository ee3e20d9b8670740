#include "resampled_source.h"

#include "sinc_divider.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <memory>

namespace fulvex {

namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

double weighted(const double *samples, const SincKernel::Row &row)
{
    double sum = 0;
    for (int i = 0; i < SincKernel::taps; ++i) sum += samples[i] * row[std::size_t(i)];
    return sum;
}

/// Samples first .. first + out.size() of a source, its ends repeated outside.
void readBeyond(const SampleSource &source, std::int64_t first, std::span<double> out)
{
    const std::int64_t count = source.axis().count, last = first + std::int64_t(out.size());
    const std::int64_t from = std::clamp<std::int64_t>(first, 0, count - 1),
                       to = std::clamp<std::int64_t>(last, from + 1, count);
    const auto inside = out.subspan(std::size_t(from - std::min(first, from)),
                                    std::size_t(std::min(to - from, std::int64_t(out.size()))));
    source.read(from, inside);
    std::fill(out.begin(), out.begin() + (inside.data() - out.data()), inside.front());
    std::fill(out.begin() + (inside.data() - out.data()) + std::ptrdiff_t(inside.size()), out.end(), inside.back());
}

/// Where the samples of one grid lie on another: at `first`, `first` + `step`, …; of whole numbers and 1 where they are
/// as good as that.
struct Places {
    double first, step;
    Places(const TimeAxis &axis, const TimeAxis &on) : first(axis.positionOn(on, 0)), step(axis.interval / on.interval)
    {
        if (std::abs(step - 1) * double(std::max<std::int64_t>(axis.count, 1)) < 1e-6) step = 1;
        if (step == 1 && std::abs(first - std::round(first)) < 1e-9) first = std::round(first);
    }
    bool areSamples() const { return step == 1 && first == std::floor(first); }
};

/// A part of a source, as its own samples are: on a grid that is off by whole ones.
class Shifted final : public SampleSource {
public:
    Shifted(SourcePtr source, TimeAxis axis, std::int64_t by) : m_source(std::move(source)), m_axis(axis), m_by(by) {}
    std::string remark() const override { return m_source->remark(); }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_source->mayHaveGaps(); }
    double resolution() const override { return m_source->resolution(); }
    std::int64_t runIn() const override { return m_source->runIn(); }
    double readEffort() const override { return m_source->readEffort(); }
    void announce(SampleRange range) const override { m_source->announce(moved(range)); }
    void release(SampleRange range) const override { m_source->release(moved(range)); }
    void read(std::int64_t first, std::span<double> out) const override { m_source->read(first + m_by, out); }
    std::optional<CodeScale> codeScale() const override { return m_source->codeScale(); }
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const override
    {
        return m_source->readCodes(first + m_by, out);
    }
    void readWideCodes(std::int64_t first, std::span<std::int32_t> out) const override
    {
        m_source->readWideCodes(first + m_by, out);
    }
    const std::int16_t *codesInPlace(std::int64_t first) const override { return m_source->codesInPlace(first + m_by); }
    void extents(SampleRange range, std::int64_t block, std::span<Extent> out) const override
    {
        m_source->extents(moved(range), block, out);
    }

private:
    SampleRange moved(SampleRange range) const { return {range.first + m_by, range.last + m_by}; }
    SourcePtr m_source;
    TimeAxis m_axis;
    std::int64_t m_by;
};

class Resampled final : public SampleSource {
public:
    std::string remark() const override { return m_source->remark(); }
    Resampled(SourcePtr source, TimeAxis axis) : m_source(std::move(source)), m_axis(axis)
    {
        const Places places(axis, m_source->axis());
        m_step = places.step;
        m_first = places.first;
        if (m_step == 1) m_row = SincKernel::row(m_first - std::floor(m_first));
        for (int phase = 0; m_step != 1 && phase <= phases; ++phase)
            m_table.push_back(SincKernel::row(double(phase) / phases));
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override
    {
        const double last = double(m_source->axis().count - 1) + 1e-9;
        return m_source->mayHaveGaps() || position(0) < -1e-9 || position(m_axis.count - 1) > last;
    }
    double resolution() const override { return m_source->resolution(); }
    std::int64_t runIn() const override { return m_source->runIn(); }
    double readEffort() const override { return 1 + m_source->readEffort(); }
    void release(SampleRange range) const override
    {
        const auto clamp = [&](double p) { return std::int64_t(std::clamp(p, 0.0, double(m_source->axis().count))); };
        m_source->release({clamp(position(range.first)), clamp(position(range.last))});
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        const SampleRange held = heldBySource({first, first + std::int64_t(out.size())});
        std::fill(out.begin(), out.end(), nan);
        if (held.size() == 0) return;
        out = out.subspan(std::size_t(held.first - first), std::size_t(held.size()));
        constexpr double sparse = SincKernel::taps; // from here on reading all between is more than is used
        if (m_step < sparse) return readTogether(held.first, out);
        std::array<double, SincKernel::taps> samples;
        for (std::size_t i = 0; i < out.size(); ++i) {
            const double at = position(held.first + std::int64_t(i));
            const auto left = std::int64_t(std::floor(at));
            readBeyond(*m_source, left - SincKernel::before, samples);
            out[i] = between(samples.data(), left, at);
        }
    }

private:
    static constexpr int phases = 1024; ///< between rows the weights are interpolated: below 2e-6 of the amplitude
    double position(std::int64_t index) const { return m_first + m_step * double(index); }
    /// Those of a range of samples that lie within the source's.
    SampleRange heldBySource(SampleRange range) const
    {
        const double last = double(m_source->axis().count - 1) + 1e-9;
        const auto within = [&](double index) {
            return std::int64_t(std::clamp(index, double(range.first), double(range.last)));
        };
        SampleRange held{within(std::floor((-1e-9 - m_first) / m_step)),
                         within(std::ceil((last - m_first) / m_step) + 1)};
        while (held.size() && position(held.first) < -1e-9) ++held.first; // one or two, by rounding
        while (held.size() && position(held.last - 1) > last) --held.last;
        return held;
    }
    void readTogether(std::int64_t first, std::span<double> out) const
    {
        const auto left = std::int64_t(std::floor(position(first)));
        const auto right = std::int64_t(std::floor(position(first + std::int64_t(out.size()) - 1)));
        std::vector<double> samples(std::size_t(right - left) + SincKernel::taps);
        readBeyond(*m_source, left - SincKernel::before, samples);
        if (m_step == 1) {
            if (m_first == std::floor(m_first))
                std::copy_n(samples.begin() + SincKernel::before, out.size(), out.begin());
            else
                SincKernel::filter(samples.data(), m_row, out.data(), out.size());
        } else {
            for (std::size_t i = 0; i < out.size(); ++i)
                out[i] = between(samples.data(), left, position(first + std::int64_t(i)));
        }
    }
    double between(const double *samples, std::int64_t left, double position) const
    {
        const double whole = std::floor(position), phase = (position - whole) * phases;
        const auto row = std::size_t(phase);
        const double share = phase - double(row);
        const double *at = samples + (std::int64_t(whole) - left);
        const double low = weighted(at, m_table[row]);
        return share == 0 ? low : low + share * (weighted(at, m_table[std::min<std::size_t>(row + 1, phases)]) - low);
    }
    SourcePtr m_source;
    TimeAxis m_axis;
    double m_first = 0, m_step = 1;
    SincKernel::Row m_row{};
    std::vector<SincKernel::Row> m_table;
};

class Upsampled final : public SampleSource {
public:
    Upsampled(SourcePtr source, int factor) : m_source(std::move(source)), m_divider(factor)
    {
        m_axis = m_source->axis();
        m_axis.interval /= factor;
        m_axis.count = (m_axis.count - 1) * factor + 1;
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return m_source->mayHaveGaps(); }
    double resolution() const override { return m_source->resolution(); }
    std::int64_t runIn() const override { return m_source->runIn(); }
    double readEffort() const override { return 1 + m_source->readEffort(); }
    void release(SampleRange range) const override
    {
        m_source->release({range.first / m_divider.factor(), range.last / m_divider.factor()});
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const int factor = m_divider.factor();
        const std::int64_t left = first / factor, right = (first + std::int64_t(out.size()) - 1) / factor;
        const std::size_t needed = std::size_t(right - left) + SincKernel::taps;
        const auto samples = std::make_unique_for_overwrite<double[]>(needed);
        readBeyond(*m_source, left - SincKernel::before, std::span(samples.get(), needed));
        m_divider.read(samples.get(), std::size_t(first - left * factor), out);
    }

private:
    SourcePtr m_source;
    SincDivider m_divider;
    TimeAxis m_axis;
};

} // namespace

SourcePtr resampled(SourcePtr source, const TimeAxis &axis)
{
    if (source->axis() == axis) return source;
    const Places places(axis, source->axis());
    const double last = places.first + double(axis.count);
    if (places.areSamples() && places.first >= 0 && last <= double(source->axis().count))
        return std::make_shared<Shifted>(std::move(source), axis, std::int64_t(places.first));
    return std::make_shared<Resampled>(std::move(source), axis);
}

SourcePtr upsampled(SourcePtr source, int factor)
{
    if (factor <= 1) return source;
    return std::make_shared<Upsampled>(std::move(source), factor);
}

TimeAxis commonAxis(const std::vector<TimeAxis> &axes)
{
    TimeAxis common = axes.front();
    double first = 0, last = double(common.count - 1);
    for (const TimeAxis &axis : axes) {
        first = std::max(first, axis.positionOn(common, 0));
        last = std::min(last, axis.positionOn(common, double(axis.count - 1)));
    }
    first = std::ceil(first - 1e-6);
    last = std::floor(last + 1e-6);
    if (last < first) { // however far apart they are
        common.count = 0;
        return common;
    }
    common.shift += first * common.interval;
    common.count = std::int64_t(last - first) + 1;
    return common;
}

} // namespace fulvex
