#pragma once

#include "eye_fold.h"

#include <memory>
#include <optional>

namespace fulvex {

/// How often a receiver that decides at a phase and level of an eye would be wrong: what symbols pass there that should
/// lie on the other side. Each unit interval counts as the symbol that it has at its middle, once in each column, at
/// what its band-limited curve has there.
struct EyeErrorRatio {
    static constexpr int columns = 64;
    std::vector<EyeCounts> symbols; ///< of the unit intervals of each symbol, the lowest first
    std::int64_t unitIntervals = 0;
    /// Sum of two, each told by what was counted or, where it was not seen ten times, by a normal distribution's tail
    /// through what was: the straight line of least squares on the Q scale through the outermost twentieth of the
    /// values. Empty where there is not enough for either.
    /// Source: docs/methods.md, "Error ratios"; Q scale: ITU-T O.201, 7.2.
    struct Ratio {
        double value = 0;
        bool measured = true; ///< false: extrapolated
    };
    /// Between the symbols `opening` and the next one, at a column's middle and a level in the channel's unit.
    std::optional<Ratio> at(int column, double level, std::size_t opening) const;

    /// The same at so many steps from the middle of what is below an opening to that of what is above it: levels and
    /// ratios; nothing where there is not enough for them.
    std::vector<std::pair<double, Ratio>> along(int column, std::size_t opening, int steps) const;

    /// Where the ratio is so small at least: an area about the opening's middle.
    struct Contour {
        double ratio = 0;
        bool measured = true;                          ///< as many unit intervals as tell it were looked at
        std::vector<std::pair<double, double>> points; ///< UI, channel's unit; around it. Empty: there is no such area
    };
    Contour contour(double ratio, std::size_t opening) const;
};

/// Of as many of the unit intervals folded as are wanted, spread evenly over them, on all cores.
EyeErrorRatio errorRatios(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                          Progress &progress);

} // namespace fulvex
