#include "crossing_masks.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "crossing_masks.cpp"
#include <algorithm>
#include <cstring>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void masks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    const hn::ScalableTag<double> d;
    const std::size_t lanes = hn::Lanes(d);
    const auto mid = hn::Set(d, level.mid), bottom = hn::Set(d, level.bottom), top = hn::Set(d, level.top);
    const auto bits = [&](auto mask) {
        std::uint8_t bytes[HWY_MAX_BYTES / 8 + 8] = {};
        hn::StoreMaskBits(d, mask, bytes);
        return std::uint64_t(bytes[0]);
    };
    for (std::size_t word = 0; word < words; ++word) {
        CrossingMasks m{};
        for (std::size_t i = 0; i < 64; i += lanes) {
            const auto v = hn::LoadU(d, samples + word * 64 + i);
            m.above |= bits(hn::Ge(v, mid)) << i;
            m.atBottom |= bits(hn::And(hn::Le(v, bottom), hn::Lt(v, mid))) << i;
            m.atTop |= bits(hn::Ge(v, top)) << i;
            m.finite |= bits(hn::Eq(v, v)) << i;
        }
        out[word] = m;
    }
}

void codeMasks(const std::int16_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    const hn::CappedTag<std::int16_t, 64> d;
    const std::size_t lanes = hn::Lanes(d);
    // A level beyond all codes is one that none reaches, or that all do.
    const auto within = [](std::int32_t code) {
        return std::int16_t(std::clamp<std::int32_t>(code, CodeScale::least, CodeScale::most));
    };
    const auto belowMid = hn::Set(d, within(level.mid - 1)), bottom = hn::Set(d, within(level.bottom)),
               belowTop = hn::Set(d, within(level.top - 1));
    const bool allAbove = level.mid <= CodeScale::least, noneAtBottom = level.bottom < CodeScale::least,
               allAtTop = level.top <= CodeScale::least;
    for (std::size_t word = 0; word < words; ++word) {
        CrossingMasks m{0, 0, 0, ~std::uint64_t(0)};
        std::uint8_t above[8], atBottom[8], atTop[8];
        for (std::size_t i = 0; i < 64; i += lanes) {
            const auto v = hn::LoadU(d, codes + word * 64 + i);
            hn::StoreMaskBits(d, hn::Gt(v, belowMid), above + i / 8);
            hn::StoreMaskBits(d, hn::Not(hn::Gt(v, bottom)), atBottom + i / 8);
            hn::StoreMaskBits(d, hn::Gt(v, belowTop), atTop + i / 8);
        }
        std::memcpy(&m.above, above, sizeof above);
        std::memcpy(&m.atBottom, atBottom, sizeof atBottom);
        std::memcpy(&m.atTop, atTop, sizeof atTop);
        if (allAbove) m.above = ~std::uint64_t(0);
        if (noneAtBottom) m.atBottom = 0;
        if (allAtTop) m.atTop = ~std::uint64_t(0);
        out[word] = m;
    }
}

const char *target()
{
    return hwy::TargetName(HWY_TARGET);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(masks);
HWY_EXPORT(codeMasks);
HWY_EXPORT(target);

void crossingMasks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(masks)(samples, words, level, out);
}

void crossingMasks(const std::int16_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(codeMasks)(codes, words, level, out);
}

const char *crossingMasksTarget()
{
    return HWY_DYNAMIC_DISPATCH(target)();
}

} // namespace fulvex
#endif
