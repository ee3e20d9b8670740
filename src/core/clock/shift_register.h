#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// A shift register whose next symbol is the sum of some of its stages.
struct ShiftRegister {
    int order;
    std::array<int, 4> stages; ///< 0: none
    bool holdsAt(std::span<const std::uint8_t> bits, std::size_t i) const { return bits[i] == next(bits, i); }
    /// What follows on the bits before i.
    std::uint8_t next(std::span<const std::uint8_t> bits, std::size_t i) const
    {
        std::uint8_t sum = 0;
        for (const int stage : stages)
            if (stage > 0) sum ^= bits[i - std::size_t(stage)];
        return sum;
    }
    /// What came before the bits behind i: the last stage, by all the others.
    std::uint8_t before(std::span<const std::uint8_t> bits, std::size_t i) const
    {
        std::uint8_t sum = bits[i + std::size_t(order)];
        for (const int stage : stages)
            if (stage > 0 && stage != order) sum ^= bits[i + std::size_t(order - stage)];
        return sum;
    }
};

/// Those of PRBS; of order 20 two are in use. Source: see patternOf().
constexpr ShiftRegister registers[] = {
    {7, {6, 7}},   {9, {5, 9}},    {11, {9, 11}},  {13, {1, 2, 12, 13}}, {15, {14, 15}},
    {20, {3, 20}}, {20, {17, 20}}, {23, {18, 23}}, {29, {27, 29}},       {31, {28, 31}},
};

/// How many places a register foretells, of which the bits before are known.
struct Foretold {
    std::int64_t known = 0, right = 0; ///< and how many of them rightly
};
Foretold foretold(std::span<const std::uint8_t> bits, const ShiftRegister &by);

} // namespace fulvex
