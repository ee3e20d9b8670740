#pragma once

#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// The places of set bits of words of 64, ascending, and how many they are. There is room for sixteen more behind them.
std::size_t listBits(std::span<const std::uint64_t> words, std::int32_t *places);

} // namespace fulvex
