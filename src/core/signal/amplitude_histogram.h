#pragma once

#include "code_scale.h"
#include "nested_bins.h"

#include <span>
#include <vector>

namespace fulvex {

/// How often each amplitude occurs, in 1024 to 2048 bins between the least and the greatest. Made block by block
/// without knowing those before: bins grow with what is added. Mergeable; counts to the last bit in any order.
struct AmplitudeHistogram {
    struct alignas(16) Bin {
        double count = 0;
        double sum = 0; ///< of its values, for a mean finer than the bin
    };
    static constexpr int between = 2048;
    NestedBins grid;
    double least = 0, most = 0; ///< of what was added; meaningless without bins
    std::vector<Bin> bins;

    /// Of values that are all numbers.
    static AmplitudeHistogram of(std::span<const double> values);
    /// Adds values from `low` to `high`, those that are gaps left out. Values beyond 1e150 are not counted: nothing is
    /// computed from such records (AmplitudeStats::trouble).
    void add(std::span<const double> values, double low, double high);
    /// The same of values that are codes: how often each from `first` on occurs, the first and the last at least once.
    void addCodes(const CodeScale &scale, std::int32_t first, std::span<const std::uint32_t> counts);
    void merge(const AmplitudeHistogram &later);
    /// What is left without one of its parts, in the same bins.
    AmplitudeHistogram without(const AmplitudeHistogram &part) const;
    double count() const; ///< of all
    /// Samples in the bins that lie wholly within the two values.
    double countWithin(double from, double to) const;

private:
    void widen(double low, double high);
    void addBins(const AmplitudeHistogram &finer, double times); ///< that lie within these
};

} // namespace fulvex
