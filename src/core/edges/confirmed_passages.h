#pragma once

#include "crossing_masks.h"
#include "sample_source.h"
#include "time_axis.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <vector>

namespace fulvex {

/// Where some samples of a record cross a level, as EdgeScanner finds it, but as bits, 64 samples a word: bit i where
/// the instant lies between the samples i - 1 and i. Kept from stretch to stretch for its room.
class ConfirmedPassages {
public:
    using Words = std::vector<std::uint64_t>;
    /// Of masks of samples of which those `there` are of the record, and all of these finite; others of them are
    /// changed.
    void find(std::span<CrossingMasks> masks, SampleRange there);
    /// The same sample by sample, gaps and all: the plain version. `valueAt(i)`: of the samples that are there.
    void findPlainly(const std::function<double(std::size_t)> &valueAt, CrossingLevel level, std::size_t words,
                     SampleRange there);
    /// A crossing at a border of the samples may hang on what lies beyond it: on which side of the band the signal was
    /// before, or whether it will reach the other one. `source`: whose sample `first` is the first one, of a word's
    /// first bit. `matters`: places that are asked for.
    void settle(const SampleSource &source, std::int64_t first, CrossingLevel level, SampleRange matters);
    const Words &of(bool rising) const { return rising ? m_rising : m_falling; }

private:
    struct Passage {
        std::int64_t place;
        bool rising;
    };
    void set(Passage passage);
    void clear(std::int64_t place);
    Words m_rising, m_falling;
    SampleRange m_there;
    std::optional<Passage> m_first; ///< one if the signal was on the other side of the band before the samples
    std::optional<Passage> m_last;  ///< one if it reaches the other side behind them
    bool m_isArmed = true;          ///< else the last one hangs on the side before the samples as well
};

} // namespace fulvex
