#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <utility>

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
    /// Adds a block of samples that follow, the first of which is sample `first`; gives the least and the greatest of
    /// them, the former above the latter where there are gaps alone.
    std::pair<double, double> add(std::int64_t first, std::span<const double> values);
    /// Adds what another part saw; parts merge in the order of the record. Chan, Golub, LeVeque (1979).
    void merge(const AmplitudeStats &later);
    /// Count, mean and squares of what is left without one of its parts; no extremes.
    AmplitudeStats without(const AmplitudeStats &part) const;
};

} // namespace fulvex
