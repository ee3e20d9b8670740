#pragma once

#include "progress.h"
#include "sample_source.h"

#include <cstdint>
#include <string>
#include <vector>

namespace fulvex {

/// Count, extremes and moments of the samples of a range; gaps are left out and counted. Mergeable.
struct AmplitudeStats {
    std::int64_t count = 0, gaps = 0;
    double minimum = 0, maximum = 0;           ///< meaningless while count is 0
    std::int64_t minimumAt = 0, maximumAt = 0; ///< sample index of the first extreme
    double mean = 0;
    double squares = 0; ///< sum of squared deviations from the mean
    double rms() const;
    double acRms() const; ///< rms about the mean, over the population
    /// Why nothing can be computed from such samples: they reach so far, or differ by so little, that products of them
    /// are no numbers any more. Empty for all that an instrument could have measured.
    std::string trouble() const;
    /// Adds what another part saw; parts merge in the order of the record. Chan, Golub, LeVeque (1979).
    void merge(const AmplitudeStats &later);
};

/// One pass over the range, on all cores.
AmplitudeStats amplitudeStats(const SampleSource &source, SampleRange range, Progress &progress);

/// How often each amplitude occurs, in equal bins over [low, high]; samples outside are not counted.
struct AmplitudeHistogram {
    double low = 0, high = 0;
    std::vector<std::int64_t> counts;
    std::vector<double> sums; ///< of the values in each bin, for a mean finer than the bin
    void merge(const AmplitudeHistogram &later);
};

/// low <= high, of samples without trouble().
AmplitudeHistogram amplitudeHistogram(const SampleSource &source, SampleRange range, double low, double high, int bins,
                                      Progress &progress);

} // namespace fulvex
