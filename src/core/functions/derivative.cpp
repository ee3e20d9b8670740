#include "functions.h"
#include "over_time.h"

#include <algorithm>
#include <utility>

namespace fulvex {

namespace {

class Derivative final : public OverTime {
public:
    using OverTime::OverTime;
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t count = axis().count, last = first + std::int64_t(out.size());
        const std::int64_t from = std::max<std::int64_t>(0, first - 1), to = std::min(count, last + 1);
        const auto read = values(from, to - from);
        const auto at = [&](std::int64_t i) { return i < 0 || i >= count ? nan : read[std::size_t(i - from)]; };
        double before = at(first - 1), here = at(first);
        for (std::int64_t i = first; i < last; ++i) {
            const double behind = at(i + 1);
            const bool since = before == before, until = behind == behind;
            const double rise = (until ? behind : here) - (since ? before : here);
            // 0 / 0 where it has no neighbour
            out[std::size_t(i - first)] = here == here ? finite(rise / (double(since + until) * axis().interval)) : nan;
            before = std::exchange(here, behind);
        }
    }
};

} // namespace

SourcePtr derivativeOf(const FormulaOver &of)
{
    return std::make_shared<Derivative>(of.sources[0]);
}

} // namespace fulvex
