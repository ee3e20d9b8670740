#include "bit_list.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "bit_list.cpp"
#include <bit>
#include <cstring>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

/// Some at a time, wanted or not: how many there are in a word cannot be foreseen.
std::size_t listBits(std::span<const std::uint64_t> words, std::int32_t *places)
{
    std::int32_t *out = places;
    const hn::CappedTag<std::int32_t, 16> d;
    if constexpr (hn::MaxLanes(d) == 16) { // which moves those together that are wanted
        auto place = hn::Iota(d, 0);
        const auto step = hn::Set(d, 16);
        for (const std::uint64_t word : words) {
            std::uint8_t bytes[8];
            std::memcpy(bytes, &word, sizeof word);
            for (std::size_t k = 0; k < 8; k += 2, place = hn::Add(place, step)) {
                const auto wanted = hn::LoadMaskBits(d, bytes + k);
                hn::StoreU(hn::Compress(place, wanted), d, out);
                out += hn::CountTrue(d, wanted);
            }
        }
        return std::size_t(out - places);
    }
    for (std::size_t w = 0; w < words.size(); ++w) {
        std::uint64_t left = words[w];
        const int count = std::popcount(left);
        const auto base = std::int32_t(w * 64);
        for (int done = 0; done < count; done += 8) {
            for (int k = 0; k < 8; ++k, left &= left - 1) out[done + k] = base + std::countr_zero(left);
        }
        out += count;
    }
    return std::size_t(out - places);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(listBits);

std::size_t listBits(std::span<const std::uint64_t> words, std::int32_t *places)
{
    return HWY_DYNAMIC_DISPATCH(listBits)(words, places);
}

} // namespace fulvex
#endif
