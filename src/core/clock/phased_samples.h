#pragma once

#include "code_scale.h"
#include "crossing_masks.h"
#include "phase_kernels.h"
#include "raw_vector.h"
#include "sample_source.h"
#include "unit_interval_map.h"

#include <optional>
#include <span>
#include <type_traits>
#include <vector>

namespace fulvex {

/// Samples of a stretch of the record that stays in a core's cache, and the clock as phases of them: what kernels take.
/// Values are codes where the source has some. Kept by a core from stretch to stretch for its buffers.
struct PhasedSamples {
    /// Reads those of some unit intervals and of `margin` more to either side. False where the clock has unit intervals
    /// without a sample. `interpolation`: points of the source to a sample that the map is of.
    bool load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
              std::int64_t margin);
    /// Calls `use` with where they lie: doubles, or codes of 16 or 32 bits where there is a scale.
    template <typename Use>
    decltype(auto) visit(Use &&use) const
    {
        return !scale ? use(values.data()) : inWide ? use(wideCodes.data()) : use(codes.data());
    }
    /// What `use` is given.
    template <typename Samples>
    static constexpr bool areValues = std::is_same_v<Samples, const double *>;
    /// All of them compared with a level.
    void compare(CrossingLevel level, std::vector<CrossingMasks> &masks) const;
    double valueAt(std::size_t i) const
    {
        return !scale ? values[i] : scale->valueOf(inWide ? wideCodes[i] : codes[i]);
    }
    /// The samples that the record has.
    SampleRange ofSource() const
    {
        const std::int64_t begin = first + std::int64_t(thereFirst);
        return {begin, begin + std::int64_t(there)};
    }
    static constexpr double longest = 1 << 16; ///< samples a unit interval, so that few of them fit a cache

    UnitIntervalMap::Straights lines;      ///< counted from the first boundary of the margin; with some behind the last
    std::int64_t first = 0;                ///< sample of the source
    std::size_t samples = 0, words = 0;    ///< words of 64 enough for them and one more
    std::size_t thereFirst = 0, there = 0; ///< those that the record has: it may end within
    RawVector<std::uint32_t> phases;       ///< see ClockPhase; with what kernels need behind them, as the next two
    std::optional<CodeScale> scale;        ///< of codes; else there are values
    bool inWide = false;                   ///< they are in wideCodes
    RawVector<std::int16_t> codes;         ///< 0 where the record has none
    RawVector<std::int32_t> wideCodes;
    RawVector<double> values; ///< NaN there

private:
    bool layClock(const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals, std::int64_t margin);
    void read(const SampleSource &source);
    template <typename Sample>
    std::span<Sample> room(RawVector<Sample> &all, Sample nowhere);
};

} // namespace fulvex
