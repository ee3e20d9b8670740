#pragma once

#include "edge_finder.h"
#include "eye_fold.h"
#include "population.h"

namespace fulvex {

/// How the crossings of an eye scatter at its crossing level, in unit intervals; of several records each at its own.
struct EyeCrossings {
    Moments error;                  ///< UI, against the clock; late is positive
    std::vector<Moments> parts;     ///< one a record, sorted: the same in whatever order they come
    std::vector<Moments> stretches; ///< of the records, sorted: what uncertainties are told by
    static EyeCrossings merged(const std::vector<const EyeCrossings *> &records);
};

/// Finds all crossings of `level` within unit intervals first … last and their errors against the clock.
EyeCrossings eyeCrossings(const SourcePtr &source, const UnitIntervalMap &map, double level, double hysteresis,
                          EdgeInterpolation interpolation, std::int64_t first, std::int64_t last, Progress &progress);

/// How long the transitions between the two symbols of an opening take, in unit intervals, from one of these levels to
/// the other: `levels` are laid on the opening's own. Those among unit intervals first … last whose symbols, decided at
/// their middles by `thresholds`, are these two.
/// Source: IEEE Std 181, transition duration.
EyeCrossings eyeTransitions(const SourcePtr &source, const UnitIntervalMap &map, const ReferenceLevels &levels,
                            const std::vector<double> &thresholds, std::size_t opening, bool rising,
                            EdgeInterpolation interpolation, std::int64_t first, std::int64_t last, Progress &progress);

/// What an eye says of itself. Each is one number, or a reason. `unitInterval` in s; `resolution` is a converter's step
/// in the unit, 0 unknown.
/// Levels and noise in the central 20 %; height (one - 3 s1) - (zero + 3 s0); width between the crossings' 3-sigma
/// points; crossing level where the mean traces meet, in % of the amplitude.
/// Source: methods as in docs/methods.md; IEEE Std 802.3, 68.6 and ITU-T G.957 use the same words.
struct EyeQuantities {
    const EyeFold &fold;
    const EyeCrossings *crossings = nullptr; ///< of the opening, or transitions of it; null: not asked for, or none
    double unitInterval = 0;
    double resolution = 0;
    std::size_t opening = 0; ///< between the symbol of that number, its zero, and the next one, its one

    Measured oneLevel() const;
    Measured zeroLevel() const;
    Measured amplitude() const;
    Measured height() const;
    Measured oneNoise() const;
    Measured zeroNoise() const;
    Measured qFactor() const;
    Measured signalToNoise() const;
    Measured crossingLevel() const;
    Measured width() const;
    Measured jitterRms() const;
    /// The mean of what eyeTransitions() found.
    Measured transitionTime() const;
    /// Its uncertainty is how far that of another record as long would stray: as extremes of stretches scatter, less by
    /// what the extreme of more values of a normal distribution does, as the root of the logarithm of how many.
    /// Source: Gumbel, "Statistics of Extremes", 1958, 4.2.
    Measured jitterPeakToPeak() const;

private:
    /// A number made of the fold, with the uncertainty that it has by its stretches; it changes by `perStep` times what
    /// the converter's steps leave uncertain of a level.
    /// A part of a fold, seen by one of its openings.
    struct Opening {
        const EyeFold::Part &part;
        std::size_t number;
        const Moments &one() const { return part.level(number + 1); }
        const Moments &zero() const { return part.level(number); }
        double amplitude() const { return one().mean - zero().mean; }
        double noise() const { return one().std() + zero().std(); }
        double q() const { return amplitude() / noise(); }
        double crossing() const { return part.crossing(number); }
    };
    Opening whole() const { return {fold.sum, opening}; }
    double qPerStep() const;
    Measured ofFold(double (*of)(const Opening &), double perStep) const;
    Measured ofCrossings(double (*of)(const Moments &, double unitInterval)) const;
    std::string missing() const;
    std::string missingCrossings() const;
};

} // namespace fulvex
