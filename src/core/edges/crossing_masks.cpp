#include "crossing_masks.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "crossing_masks.cpp"
#include <algorithm>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
#include <limits>
// clang-format off
#include "put_bits-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void masks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    const hn::ScalableTag<double> d;
    const std::size_t lanes = hn::Lanes(d);
    const auto mid = hn::Set(d, level.mid), bottom = hn::Set(d, level.bottom), top = hn::Set(d, level.top);
    for (std::size_t word = 0; word < words; ++word) {
        CrossingMasks m{};
        for (std::size_t i = 0; i < 64; i += lanes) {
            const auto v = hn::LoadU(d, samples + word * 64 + i);
            putBits(d, hn::Ge(v, mid), i, &m.above);
            putBits(d, hn::And(hn::Le(v, bottom), hn::Lt(v, mid)), i, &m.atBottom);
            putBits(d, hn::Ge(v, top), i, &m.atTop);
            putBits(d, hn::Eq(v, v), i, &m.finite);
        }
        out[word] = m;
    }
}

template <typename Code>
void codeMasks(const Code *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    const hn::CappedTag<Code, 64> d;
    const std::size_t lanes = hn::Lanes(d);
    // A level beyond all codes is one that none reaches, or that all do.
    constexpr std::int32_t least = std::numeric_limits<Code>::min(), most = std::numeric_limits<Code>::max();
    const auto within = [&](std::int32_t code) { return Code(std::clamp(code, least, most)); };
    const auto belowMid = hn::Set(d, within(level.mid - 1)), bottom = hn::Set(d, within(level.bottom)),
               belowTop = hn::Set(d, within(level.top - 1));
    const bool allAbove = level.mid <= least, noneAtBottom = level.bottom < least, allAtTop = level.top <= least;
    for (std::size_t word = 0; word < words; ++word) {
        CrossingMasks m{0, 0, 0, ~std::uint64_t(0)};
        for (std::size_t i = 0; i < 64; i += lanes) {
            const auto v = hn::LoadU(d, codes + word * 64 + i);
            putBits(d, hn::Gt(v, belowMid), i, &m.above);
            putBits(d, hn::Not(hn::Gt(v, bottom)), i, &m.atBottom);
            putBits(d, hn::Gt(v, belowTop), i, &m.atTop);
        }
        if (allAbove) m.above = ~std::uint64_t(0);
        if (noneAtBottom) m.atBottom = 0;
        if (allAtTop) m.atTop = ~std::uint64_t(0);
        out[word] = m;
    }
}

void shortCodeMasks(const std::int16_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    codeMasks(codes, words, level, out);
}

void wideCodeMasks(const std::int32_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    codeMasks(codes, words, level, out);
}

void reachedOfValues(const double *samples, std::size_t words, double level, std::uint64_t *reached,
                     std::uint64_t *finite)
{
    const hn::ScalableTag<double> d;
    const auto least = hn::Set(d, level);
    for (std::size_t i = 0; i < words * 64; i += hn::Lanes(d)) {
        const auto v = hn::LoadU(d, samples + i);
        putBits(d, hn::Ge(v, least), i, reached);
        putBits(d, hn::Eq(v, v), i, finite);
    }
}

template <typename Code>
void reachedOf(const Code *codes, std::size_t words, std::int32_t first, std::uint64_t *reached)
{
    const hn::CappedTag<Code, 64> d;
    constexpr std::int32_t least = std::numeric_limits<Code>::min(), most = std::numeric_limits<Code>::max();
    if (first <= least) {
        std::fill_n(reached, words, ~std::uint64_t(0));
        return;
    }
    const auto below = hn::Set(d, Code(std::min(first - 1, most)));
    for (std::size_t i = 0; i < words * 64; i += hn::Lanes(d))
        putBits(d, hn::Gt(hn::LoadU(d, codes + i), below), i, reached);
}

void reachedOfShortCodes(const std::int16_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached)
{
    reachedOf(codes, words, first, reached);
}

void reachedOfWideCodes(const std::int32_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached)
{
    reachedOf(codes, words, first, reached);
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
HWY_EXPORT(shortCodeMasks);
HWY_EXPORT(wideCodeMasks);
HWY_EXPORT(reachedOfValues);
HWY_EXPORT(reachedOfShortCodes);
HWY_EXPORT(reachedOfWideCodes);
HWY_EXPORT(target);

void crossingMasks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(masks)(samples, words, level, out);
}

void crossingMasks(const std::int16_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(shortCodeMasks)(codes, words, level, out);
}

void crossingMasks(const std::int32_t *codes, std::size_t words, CodeLevels level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(wideCodeMasks)(codes, words, level, out);
}

void reachedWords(const double *samples, std::size_t words, double level, std::uint64_t *reached, std::uint64_t *finite)
{
    HWY_DYNAMIC_DISPATCH(reachedOfValues)(samples, words, level, reached, finite);
}

void reachedWords(const std::int16_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached)
{
    HWY_DYNAMIC_DISPATCH(reachedOfShortCodes)(codes, words, first, reached);
}

void reachedWords(const std::int32_t *codes, std::size_t words, std::int32_t first, std::uint64_t *reached)
{
    HWY_DYNAMIC_DISPATCH(reachedOfWideCodes)(codes, words, first, reached);
}

const char *crossingMasksTarget()
{
    return HWY_DYNAMIC_DISPATCH(target)();
}

} // namespace fulvex
#endif
