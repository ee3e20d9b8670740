#pragma once

#include <cstddef>
#include <cstdint>

namespace fulvex {

/// What a LineSieve knows of an eye's lines: for each column of a unit interval, that lines begin in, and each row of
/// values that they begin at, a bit for each two rows that they end at: set if no area is in the way of any of them.
struct SieveLines {
    static constexpr int columnBits = 6, rowBits = 7, columns = 1 << columnBits, rows = 1 << rowBits;
    static constexpr int rowsABit = 2, bits = 32; ///< of a word
    static constexpr int wordsARow = rows / rowsABit / bits;
    const std::uint32_t *clear;      ///< column by column, row by row
    std::uint32_t shortest, longest; ///< line that they are of, as a ClockPhase
};

/// Whether the lines from each sample to the next have to be looked at: a bit a line, 64 a word, of as many words as
/// hold them; the last one's other bits are anything. `phases` (see ClockPhase) and `rows` have one more than there are
/// lines, and lanePadding behind them.
void suspectLines(const SieveLines &table, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects);

} // namespace fulvex
