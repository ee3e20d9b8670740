#pragma once

#include <cstddef>
#include <cstdint>

namespace fulvex {

/// What a LineSieve knows of an eye's lines: for each column of a unit interval, that lines begin in, and each row of
/// values the number of the band that is free of areas as far as a line of usual length reaches. A line whose ends lie
/// in one band is clear.
struct SieveBands {
    static constexpr int columnBits = 7, rowBits = 8, columns = 1 << columnBits, rows = 1 << rowBits;
    const std::uint32_t *packed; ///< column by column, four rows a word; 0: not free
    std::uint32_t longest;       ///< line that they are of, as a ClockPhase
};

/// Whether the lines from each sample to the next have to be looked at: a bit a line, 64 a word, of as many words as
/// hold them; the last one's other bits are anything. `phases` (see ClockPhase) and `rows` have one more than there are
/// lines, and foldPadding behind them.
void suspectLines(const SieveBands &bands, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects);

} // namespace fulvex
