#pragma once

#include "sample_source.h"

#include <cmath>
#include <limits>
#include <memory>
#include <utility>

namespace fulvex {

/// What sources of functions over time are, but for read().
class OverTime : public SampleSource {
public:
    explicit OverTime(SourcePtr argument) : m_argument(std::move(argument)) {}
    const TimeAxis &axis() const override { return m_argument->axis(); }
    bool mayHaveGaps() const override { return true; } // sums may leave the range of doubles
    void announce(SampleRange range) const override { m_argument->announce(range); }
    void release(SampleRange range) const override { m_argument->release(range); }
    std::string remark() const override { return m_argument->remark(); }
    std::int64_t runIn() const override { return m_argument->runIn(); }
    double readEffort() const override { return 0.5 + m_argument->readEffort(); }

protected:
    static constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    /// Samples first … of the argument, at least one.
    std::unique_ptr<double[]> values(std::int64_t first, std::int64_t count) const
    {
        auto values = std::make_unique_for_overwrite<double[]>(std::size_t(count));
        m_argument->read(first, std::span(values.get(), std::size_t(count)));
        return values;
    }
    static double finite(double value) { return std::isfinite(value) ? value : nan; }
    const SampleSource &argument() const { return *m_argument; }

private:
    SourcePtr m_argument;
};

} // namespace fulvex
