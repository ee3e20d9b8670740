#include "error.h"
#include "functions.h"
#include "over_time.h"
#include "resampled_source.h"

#include <cmath>

namespace fulvex {

namespace {

/// The same samples at another time.
class Later final : public OverTime {
public:
    Later(SourcePtr source, double time) : OverTime(std::move(source)), m_axis(argument().axis())
    {
        m_axis.shift += time;
    }
    const TimeAxis &axis() const override { return m_axis; }
    void read(std::int64_t first, std::span<double> out) const override { argument().read(first, out); }
    bool mayHaveGaps() const override { return argument().mayHaveGaps(); }
    double readEffort() const override { return argument().readEffort(); }

private:
    TimeAxis m_axis;
};

} // namespace

SourcePtr delayOf(const FormulaOver &of)
{
    const double time = of.constants[0];
    const TimeAxis &axis = of.sources[0]->axis();
    if (!std::isfinite(time)) throw Error("", "a delay that is no number", "give it in seconds, below 0 for earlier");
    if (std::abs(time) >= double(axis.count) * axis.interval)
        throw Error("", "a delay longer than the record", "nothing would be left; give a shorter one");
    return resampled(std::make_shared<Later>(of.sources[0], time), axis);
}

} // namespace fulvex
