#pragma once

#include "jitter_make_up.h"

#include <optional>
#include <span>

namespace fulvex {

/// What eats a unit interval, part by part, at an error ratio.
struct JitterBudget {
    struct Part {
        enum class Kind { dutyCycle, pattern, line, bounded, random } kind = Kind::random;
        double size = 0, uncertainty = 0;   ///< s
        std::size_t line = 0;               ///< of the make-up's, with its harmonics; of kind `line`
        bool leftOut = false;               ///< not part of the total
        std::optional<double> without = {}; ///< s: the total without this line; of the strongest that are not left out
    };
    double unitInterval = 0, ratio = 0; ///< s; error ratio
    double random = 0;                  ///< s rms
    double factor = 0;                  ///< that the random part has in its piece, 14.07 at 1e-12
    std::vector<Part> parts;
    double total = 0, uncertainty = 0; ///< s: what is eaten by all together, their extremes seldom meet
    double whole = 0;                  ///< s: the same with nothing left out
    double randomUncertainty() const;  ///< s rms
    double added() const;              ///< s: the sum of the parts that are not left out
    double open() const { return unitInterval - total; }
    std::shared_ptr<const BoundedJitter> bounded; ///< of what is not left out
};

/// `tails`: by these; null by the spectral method. `without` (Hz): lines that are left out, each the nearest one within
/// a hundredth.
JitterBudget budgetOf(const JitterMakeUp &found, const JitterTails *tails, double ratio,
                      std::span<const double> without);

} // namespace fulvex
