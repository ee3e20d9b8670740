#pragma once

#include "progress.h"
#include "sample_source.h"

#include <limits>
#include <vector>

namespace fulvex {

/// How alike a signal and itself are, some time later: the mean of (x(t) - m)(x(t + lag) - m) over all pairs of samples
/// that far apart, divided by that at lag 0. Gaps are no samples. Source: Bendat, Piersol, "Random Data", chapter 11.
struct Autocorrelation {
    double interval = 0;              ///< s from lag to lag
    double mean = 0, variance = 0;    ///< unit, unit²
    double share = 1;                 ///< of the range that was looked at
    std::vector<double> coefficients; ///< -1 … 1, from lag 0 on; empty where there is nothing that varies
    struct Peak {
        double lag = 0, coefficient = 0; ///< s
    };
    /// The highest maxima after the first fall through a half, at most `most` of them, highest first, refined between
    /// lags by a parabola; none below 5 times what independent values scatter.
    std::vector<Peak> peaks(std::size_t most) const;
    std::int64_t pairs = 0; ///< at lag 0
};

/// Up to `lags` lags, fewer where the range is shorter. `mostBlocks`: for first answers, no more than so many blocks of
/// samples, three times as long as the lags, spread evenly. Source: C. M. Rader, "An improved algorithm for high speed
/// autocorrelation", IEEE Trans. AU-18 (1970): sums of the blocks' transforms are transformed back once.
Autocorrelation autocorrelation(const SampleSource &source, SampleRange range, std::int64_t lags, Progress &progress,
                                std::int64_t mostBlocks = std::numeric_limits<std::int64_t>::max());

} // namespace fulvex
