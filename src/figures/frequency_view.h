#pragma once

#include "axis_painter.h"
#include "sheet_entry.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <utility>

namespace fulvex {

/// What a tile shows of something that lies over frequency (or lag): all of it, or a span about a centre.
struct FrequencyView {
    double highest = 1, step = 1; ///< Hz: the last line, and from line to line; of lags s
    std::optional<double> centre, span;
    bool logarithmic = false; ///< from the first line on
    static FrequencyView of(const TileEntry &tile, double highest, double step)
    {
        return {highest, step, tile.centre, tile.span, tile.logFrequency};
    }
    std::pair<double, double> shown() const;
    AxisScale scale(const char *unit = "Hz") const;
    /// Closer by a factor (below 1: less), about what lies at a share of the width.
    std::pair<double, double> closer(double share, double factor) const;
    /// Moved by a share of the width.
    std::pair<double, double> moved(double share) const;
    bool operator==(const FrequencyView &) const = default;

private:
    std::pair<double, double> between(double shareFrom, double shareTo) const;
};

/// Calls use(first, last) for the lines, first <= line < last, of each of `columns` columns of what is shown that holds
/// any: those that a plot of so many pixels cannot show apart.
template <typename Use>
void forColumns(const AxisScale &scale, double step, std::size_t lines, double columns, Use &&use)
{
    const auto lineAt = [&](double value) {
        return std::size_t(std::clamp(std::ceil(value / step - 1e-9), 0.0, double(lines)));
    };
    const std::size_t begin = lineAt(scale.low), end = std::min(lines, lineAt(scale.high * (1 + 1e-12)) + 1);
    std::size_t first = begin;
    for (double column = 1; first < end && column <= columns; ++column) {
        const std::size_t last = column == columns ? end : std::min(end, lineAt(scale.valueAt(column / columns)));
        if (last > first) use(first, last);
        first = std::max(first, last);
    }
}

} // namespace fulvex
