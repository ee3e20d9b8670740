#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// Bits one behind the other, in words of 64.
class BitRow {
public:
    /// Of `count` bits, and words behind them that may be read.
    void resize(std::size_t count);
    std::size_t size() const { return m_size; }
    std::uint64_t *words() { return m_words.data(); }
    const std::uint64_t *words() const { return m_words.data(); }
    bool operator[](std::size_t i) const { return m_words[i / 64] >> (i % 64) & 1; }
    /// 64 of them from one on.
    std::uint64_t from(std::size_t i) const
    {
        return m_words[i / 64] >> (i % 64) | m_words[i / 64 + 1] << 1 << (63 - i % 64);
    }

private:
    std::vector<std::uint64_t> m_words;
    std::size_t m_size = 0;
};

/// Bit i of `words`, which are written all, where one of some positions lies behind origin + i and not behind the next
/// place. False, and then words say nothing, where positions do not ascend by more than 1.001 each (1, rounding aside)
/// from the origin on, or do not end within the words.
bool passedBits(std::span<const double> positions, double origin, std::span<std::uint64_t> words);

/// A row of whether bytes, a multiple of 64 of them, are some value.
void bitsEqual(const std::uint8_t *bytes, std::size_t count, std::uint8_t value, BitRow &row);

/// Adds each bit of a row, 0 or 1, to a byte; `count` is a multiple of 64.
void addBits(const BitRow &row, std::size_t count, std::uint8_t *bytes);

/// How many bits are set.
std::size_t bitsOf(std::span<const std::uint64_t> words);

/// The place of the set bit before which there are `before` others, which is there.
std::size_t placeOfBit(std::span<const std::uint64_t> words, std::size_t before);

/// Bits of `from` at the places that are set in `at`, one behind the other, from bit `first` of a row on; the bits of
/// the row before that stay.
void gatherBits(std::span<const std::uint64_t> from, std::span<const std::uint64_t> at, std::size_t first, BitRow &row);

/// The other way round, and filled: the places up to the first that is set in `at`, itself among them, get the row's
/// bit `first`, those behind up to the next the bit after that, and so on.
void spreadBits(const BitRow &row, std::size_t first, std::span<const std::uint64_t> at, std::uint64_t *out);

} // namespace fulvex
