#pragma once

#include "code_scale.h"
#include "crossing_masks.h"
#include "raw_vector.h"
#include "sample_source.h"

#include <cstdint>
#include <optional>
#include <span>
#include <type_traits>
#include <vector>

namespace fulvex {

/// Samples of a stretch of the record that stays in a core's cache, as kernels take them: codes where the source has
/// some. The stretch may reach beyond the record. Kept by a core from stretch to stretch for its buffers.
struct StretchSamples {
    static constexpr double longest = 1 << 16; ///< samples a unit interval, of which few would fit a cache
    void read(const SampleSource &source, SampleRange range);
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
    /// Bits of those that have reached a level, of as many words; where there is no scale those of the ones that are no
    /// gap as well.
    void compare(double level, std::uint64_t *reached, std::uint64_t *finite) const;
    double valueAt(std::size_t i) const
    {
        return !scale ? values[i] : scale->valueOf(inWide ? wideCodes[i] : codes[i]);
    }
    /// Some of those that the record has, as the source reads them.
    void copyValues(std::int64_t from, std::span<double> values) const;
    /// The samples that the record has.
    SampleRange ofSource() const
    {
        const std::int64_t begin = first + std::int64_t(thereFirst);
        return {begin, begin + std::int64_t(there)};
    }

    std::int64_t first = 0;                ///< sample of the source
    std::size_t samples = 0, words = 0;    ///< words of 64 enough for them and one more
    std::size_t thereFirst = 0, there = 0; ///< those that the record has
    std::optional<CodeScale> scale;        ///< of codes; else there are values
    bool inWide = false;                   ///< they are in wideCodes
    RawVector<std::int16_t> codes;         ///< 0 where the record has none; with what kernels need behind them
    RawVector<std::int32_t> wideCodes;
    RawVector<double> values; ///< NaN there

private:
    template <typename Sample>
    std::span<Sample> room(RawVector<Sample> &all, Sample nowhere);
};

} // namespace fulvex
