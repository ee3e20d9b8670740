#include "error.h"
#include "functions.h"
#include "over_time.h"
#include "resampled_source.h"

#include <cmath>
#include <vector>

namespace fulvex {

namespace {

/// A weighted sum of the signal and what it was before.
class Taps final : public OverTime {
public:
    Taps(std::vector<SourcePtr> delayed, std::vector<double> weights)
        : OverTime(delayed.front()), m_delayed(std::move(delayed)), m_weights(std::move(weights))
    {
    }
    double readEffort() const override
    {
        double effort = 0;
        for (const SourcePtr &source : m_delayed) effort += 0.2 + source->readEffort();
        return effort;
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        std::vector<double> one(out.size());
        std::fill(out.begin(), out.end(), 0.0);
        for (std::size_t k = 0; k < m_delayed.size(); ++k) {
            m_delayed[k]->read(first, one);
            for (std::size_t i = 0; i < out.size(); ++i) out[i] += m_weights[k] * one[i];
        }
        for (double &value : out) value = finite(value);
    }

private:
    std::vector<SourcePtr> m_delayed;
    std::vector<double> m_weights;
};

SourcePtr weighted(const SourcePtr &source, double spacing, std::span<const double> weights, Progress &progress)
{
    if (!(spacing > 0 && std::isfinite(spacing)))
        throw Error("", "taps that are not apart", "give the time from one to the next, such as a unit interval");
    std::vector<SourcePtr> delayed;
    std::vector<double> counted;
    for (std::size_t k = 0; k < weights.size(); ++k) {
        if (!std::isfinite(weights[k])) throw Error("", "a tap that is no number", "give each as a number");
        if (weights[k] == 0 && k > 0) continue;
        counted.push_back(weights[k]);
        delayed.push_back(k == 0 ? source : delayOf({{source}, {double(k) * spacing}, {}, {}, progress}));
    }
    return std::make_shared<Taps>(std::move(delayed), std::move(counted));
}

} // namespace

SourcePtr tapsOf(const FormulaOver &of)
{
    return weighted(of.sources[0], of.constants[0], std::span(of.constants).subspan(1), of.progress);
}

SourcePtr emphasiseOf(const FormulaOver &of)
{
    const double ratio = of.constants[1];
    if (!(ratio > 0 && ratio <= 1000))
        throw Error("", "an emphasis that is no ratio up to 1000",
                    "give it as 1.5, or as 3.5 dB; less than 1 takes some away");
    const double weights[] = {(1 + ratio) / 2, (1 - ratio) / 2};
    return weighted(of.sources[0], of.constants[0], weights, of.progress);
}

} // namespace fulvex
