#pragma once

#include "code_scale.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// How the samples lie at the least or the greatest of them: what tells clipping from a signal that comes to rest.
struct RunsAtExtreme {
    double value = 0;                                               ///< meaningless while samples is 0
    std::int64_t samples = 0;                                       ///< that have exactly this value
    std::int64_t runs = 0;                                          ///< three or more in a row
    std::int64_t first = -1;                                        ///< sample at which the first such run begins
    double steps = 0;                                               ///< sum of the steps onto the value at these runs
    double step() const { return runs ? steps / double(runs) : 0; } ///< mean
};

/// Of both ends. Mergeable in the order of the record.
struct ExtremeRuns {
    RunsAtExtreme minimum, maximum;
    void merge(const ExtremeRuns &later);
};

/// Finds them block by block, without knowing the extremes before: what was found at one that is surpassed is dropped.
/// A run belongs to the part that its third sample lies in.
class ExtremeRunFinder {
public:
    /// `before`: up to three samples that stand before the first block.
    explicit ExtremeRunFinder(std::span<const double> before);
    /// Samples first … that follow on those added before, from `low` to `high` but for gaps; a block of gaps has `low`
    /// above `high`.
    void add(std::int64_t first, std::span<const double> values, double low, double high);
    /// The same of samples that are codes; there is one at least.
    template <typename Code>
    void addCodes(std::int64_t first, std::span<const Code> codes, const CodeScale &scale, std::int32_t low,
                  std::int32_t high)
    {
        const double least = scale.valueOf(low), most = scale.valueOf(high);
        // Most stretches come to none of the extremes so far: of those the last samples are enough.
        const auto some = reaches(least, most) ? codes : codes.last(std::min<std::size_t>(3, codes.size()));
        m_values.resize(some.size());
        for (std::size_t i = 0; i < some.size(); ++i) m_values[i] = scale.valueOf(some[i]);
        add(first, m_values, least, most);
    }
    const ExtremeRuns &found() const { return m_found; }

private:
    bool reaches(double low, double high) const; ///< one of the extremes so far, or beyond
    void addAt(RunsAtExtreme &end, int &length, std::int64_t first, std::span<const double> values);
    double stepBefore(std::size_t third, std::span<const double> values) const;
    int lengthBefore(double value) const;
    ExtremeRuns m_found;
    int m_low = 0, m_high = 0;      ///< samples of the run that the last block ended with
    std::vector<double> m_values;   ///< of codes
    std::array<double, 3> m_before; ///< the last three samples; gaps where there were none
};

} // namespace fulvex
