#pragma once

#include "amplitude_histogram.h"

#include <string>

namespace fulvex {

/// Gaussian tails behind something bounded: what is random and what is not, told by the outermost fifths of a
/// distribution to either side.
struct TailFit {
    double random = 0;            ///< s rms, of the normal distribution
    double extent = 0;            ///< s, of the bounded one, which is even; 0: there is none that chance would not make
    double shape = 1;             ///< of it: 0 two values, 0.5 as of a sine, 1 uniform, 2 a parabola, 3 a bell
    double middle = 0;            ///< s
    double randomUncertainty = 0; ///< s, of chance alone
    /// s, where no bounded one is believed: what the likeliest one would change, weighed by how likely it is (H.
    /// Akaike, IEEE Trans. Automat. Contr. 19 (1974)).
    double hidden = 0;
    /// s, as well of what is bounded in a shape other than those fitted, which may shift it by a tenth to either side,
    /// or is not told at all.
    double uncertainty() const;
    double apart = 0;            ///< s, dual-Dirac: of two values that the same tail at 1e-12 follows from
    double apartUncertainty = 0; ///< s
    std::string reason;          ///< not empty: it cannot be told, and why
};

/// By maximum likelihood, of a normal distribution joined with a beta distribution of equal parameters over a bounded
/// extent; the middle of the values counts only as how many they are. The bounded part is believed where it makes the
/// tails likelier by more than two parameters do of chance alone once in a thousand times (S. S. Wilks, Ann. Math.
/// Statist. 9 (1938)).
TailFit fitTails(const AmplitudeHistogram &values);

} // namespace fulvex
