#pragma once

#include <algorithm>
#include <cstdint>
#include <span>

namespace fulvex {

/// Of a word of 64 bits those first <= i < last, whatever these are.
constexpr std::uint64_t bitsBetween(std::int64_t first, std::int64_t last)
{
    const auto below = [](std::int64_t place) { // ones below a place
        return place <= 0 ? 0 : place >= 64 ? ~std::uint64_t(0) : (std::uint64_t(1) << place) - 1;
    };
    return below(last) & ~below(first);
}

/// Of words, 64 bits each, bits first <= i < last alone.
inline void keepBits(std::span<std::uint64_t> words, std::int64_t first, std::int64_t last)
{
    const auto size = std::int64_t(words.size());
    for (std::int64_t w = 0; w < size && w * 64 < first; ++w) words[std::size_t(w)] &= bitsBetween(first - w * 64, 64);
    for (std::int64_t w = std::max<std::int64_t>(0, last) / 64; w < size; ++w)
        words[std::size_t(w)] &= bitsBetween(0, last - w * 64);
}

} // namespace fulvex
