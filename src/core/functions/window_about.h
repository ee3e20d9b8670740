#pragma once

#include "formula_function.h"
#include "over_time.h"

#include <cstdint>

namespace fulvex {

/// How many samples lie to either side within half of a function's time, its first constant. Error where that is below
/// 0, no number, or so long that more than `most` samples lie in it.
std::int64_t halfWindow(const FormulaOver &of, const char *function, double most);

/// A source that looks at a window of samples about each.
class WindowAbout : public OverTime {
public:
    WindowAbout(SourcePtr argument, std::int64_t half) : OverTime(std::move(argument)), m_half(half) {}
    double readEffort() const override
    {
        constexpr double block = 4096; // that is read at a time, about
        return OverTime::readEffort() * (1 + 2 * double(m_half) / block);
    }

protected:
    struct Window {
        std::int64_t first, last; ///< samples, both included
    };
    Window about(std::int64_t sample) const
    {
        return {std::max<std::int64_t>(0, sample - m_half), std::min(axis().count - 1, sample + m_half)};
    }

private:
    std::int64_t m_half; ///< samples to either side
};

} // namespace fulvex
