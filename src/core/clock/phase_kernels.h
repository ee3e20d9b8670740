#pragma once

#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// The clock as whole numbers of 32 bits: a unit interval is 2^28 of them, so that the lower 28 bits are a phase, and
/// the upper four count unit intervals and wrap by themselves. A phase is 2^-29 of a unit interval off at most where a
/// straight line begins, and eight times as much on it.
struct ClockPhase {
    static constexpr int bits = 28;
    static constexpr std::uint32_t unitInterval = std::uint32_t(1) << bits, half = unitInterval / 2,
                                   quarter = unitInterval / 4, within = unitInterval - 1;
};

/// Straight lines of the clock, of columns as UnitIntervalMap::Straights has them, over samples that are counted from
/// `origin` of the record on. Behind the last line there is room for `padding` more.
struct ClockLines {
    static constexpr std::size_t padding = 8;
    std::span<const std::int32_t> number;
    const double *from, *step;
    double origin;
};

/// What phases say, a bit a sample and 64 a word. Those behind the first may all be null: they are not wanted.
struct PhaseWords {
    std::uint64_t *middles; ///< the middle of a unit interval lies behind it, and not behind the next sample
    std::uint64_t *behind;  ///< it lies in the second half of a unit interval
    std::uint64_t *centre;  ///< in the middle fifth
    std::uint64_t *edge;    ///< within a quarter of a unit interval about a boundary
};

/// What kernels may read and write behind the last sample.
constexpr std::size_t lanePadding = 64;

/// The phase of each sample from the first line's first boundary on. Lines have a sample a unit interval at least.
void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases);

/// Of so many words of phases, and one phase more.
void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out);

} // namespace fulvex
