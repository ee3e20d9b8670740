#pragma once

#include "edge_list.h"
#include "progress.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// The symbol rate of a signal, and which unit interval each of its edges belongs to.
struct SymbolTiming {
    double period = 0;            ///< samples per unit interval, by the straight-line fit of instants over numbers
    double periodUncertainty = 0; ///< samples, standard, from the fit's residuals
    double offset = 0;            ///< position of unit interval boundary 0 on the fitted line
    BoundaryNumbers numbers;      ///< per edge; non-decreasing, equal where two crossings fall into one interval
    std::string reason;           ///< not empty: it could not be found, why, and what would help
    /// Of those edges alone, on the same line.
    SymbolTiming part(SampleRange some) const
    {
        return {period, periodUncertainty, offset, {numbers.begin() + some.first, numbers.begin() + some.last}, reason};
    }
    bool found() const { return reason.empty(); }
};

/// Finds the symbol rate from crossing instants: a candidate from the intervals between crossings (the longest period
/// of which they are multiples; for a clock waveform half its period), the maximum of |sum exp(2 pi i t / T)| near it
/// over growing spans, then numbering by a tracker that follows wander, and a least-squares line through all instants.
/// A rate that is 1 % off, long runs without edges and wander of many unit intervals do not slip one.
/// `expected`: samples per unit interval where the user gave a rate (within 1 %); else searched.
SymbolTiming findSymbolTiming(const EdgeList &edges, std::optional<double> expected, Progress &progress);

} // namespace fulvex
