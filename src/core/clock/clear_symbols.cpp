#include "clear_symbols.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "clear_symbols.cpp"
#include <algorithm>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
#include <limits>
#include <type_traits>
// clang-format off
#include "put_bits-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr std::size_t before = 2; ///< samples before the one at a place that are looked at, and three behind it

/// Eight times the least and the most that the signal may come to from a sample to the next, of which `samples` is the
/// second before: by codes these are whole numbers.
template <bool bandLimited, typename D, typename Load>
void reachOf(D d, const Load &load, hn::Vec<D> &low, hn::Vec<D> &high)
{
    const auto eight = hn::Set(d, hn::TFromD<D>(8));
    const auto b = load(before), c = load(before + 1);
    low = hn::Mul(hn::Min(b, c), eight);
    high = hn::Mul(hn::Max(b, c), eight);
    if constexpr (bandLimited) {
        const auto left = load(before - 1), right = load(before + 2);
        const auto nearBy =
            hn::Add(hn::Add(hn::Abs(hn::Sub(b, left)), hn::Abs(hn::Sub(c, b))), hn::Abs(hn::Sub(right, c)));
        const auto beyond = hn::Add(hn::Abs(hn::Sub(left, load(0))), hn::Abs(hn::Sub(load(before + 3), right)));
        const auto off = hn::Add(hn::Add(nearBy, nearBy), beyond);
        low = hn::Sub(low, off);
        high = hn::Add(high, off);
    } else if constexpr (std::is_floating_point_v<hn::TFromD<D>>) { // Min and Max pass over NaN
        const auto gap = hn::Sub(hn::Add(b, c), hn::Add(b, c));
        low = hn::Add(low, gap);
        high = hn::Add(high, gap);
    }
}

/// Bits were put at the first of the samples that are loaded for a place, which lies two before it.
void moveToPlaces(std::size_t words, const ClearWords &out)
{
    for (const auto &rows : {out.atLeast, out.below}) {
        for (std::uint64_t *row : rows) {
            for (std::size_t w = words; w-- > 0;) row[w] = row[w] << before | (w > 0 ? row[w - 1] >> (64 - before) : 0);
            if (words > 0) row[words - 1] &= ~std::uint64_t(0) >> 3;
        }
    }
}

template <bool bandLimited, typename D, typename Load, typename Threshold>
void clearBits(D d, const Load &loadAt, std::size_t words, std::span<const Threshold> thresholds, const ClearWords &out)
{
    constexpr bool whole = std::is_integral_v<Threshold>;
    const auto at = [](Threshold threshold) { return hn::TFromD<D>(threshold * 8); };
    for (std::size_t w = 0; w < words; ++w) {
        for (std::size_t i = w * 64; i < w * 64 + 64; i += hn::Lanes(d)) {
            auto low = hn::Zero(d), high = low;
            reachOf<bandLimited>(
                d, [&](std::size_t off) { return loadAt(i + off); }, low, high);
            for (std::size_t t = 0; t < thresholds.size(); ++t) {
                const auto threshold = hn::Set(d, at(thresholds[t]));
                if constexpr (whole) // what is below the first code is at the one before it, or below
                    putBits(d, hn::Gt(low, hn::Sub(threshold, hn::Set(d, 1))), i, out.atLeast[t]);
                else
                    putBits(d, hn::Ge(low, threshold), i, out.atLeast[t]);
                const auto below = whole ? hn::Sub(threshold, hn::Set(d, hn::TFromD<D>(7))) : threshold;
                putBits(d, hn::Lt(high, below), i, out.below[t]);
            }
        }
    }
    moveToPlaces(words, out);
}

/// Codes of 16 bits as such, counted from the least that there is, twice as many at a time. An eighth of the sum of
/// what the signal changes by is made of means of two, each rounded upwards: 9/8 more than it at most. What leaves the
/// codes is clear of no threshold, and nothing is of one that does not lie between two codes.
template <bool bandLimited>
void clearBitsOfShort(const std::int16_t *codes, std::size_t words, std::span<const std::int32_t> thresholds,
                      const ClearWords &out)
{
    const hn::CappedTag<std::uint16_t, 32> d;
    const hn::RebindToSigned<decltype(d)> stored;
    constexpr std::int32_t least = std::numeric_limits<std::int16_t>::min();
    const auto zero = hn::Set(d, std::uint16_t(least));
    const auto differ = [](auto a, auto b) { return hn::Sub(hn::Max(a, b), hn::Min(a, b)); };
    for (std::size_t i = 0; i < words * 64; i += hn::Lanes(d)) {
        const auto load = [&](std::size_t off) {
            return hn::Xor(hn::BitCast(d, hn::LoadU(stored, codes + i + off)), zero);
        };
        const auto b = load(before), c = load(before + 1);
        auto low = hn::Min(b, c), high = hn::Max(b, c);
        if constexpr (bandLimited) {
            const auto left = load(before - 1), right = load(before + 2);
            const auto beyond = hn::AverageRound(differ(left, load(0)), differ(load(before + 3), right)),
                       nearBy = hn::AverageRound(differ(b, left), differ(right, c)),
                       off = hn::AverageRound(nearBy, hn::AverageRound(hn::Sub(high, low), beyond));
            low = hn::SaturatedSub(low, off);
            high = hn::SaturatedAdd(high, off);
        }
        for (std::size_t t = 0; t < thresholds.size(); ++t) {
            const auto first = std::uint16_t(thresholds[t] - least);
            putBits(d, hn::Gt(low, hn::Set(d, std::uint16_t(first - 1))), i, out.atLeast[t]);
            putBits(d, hn::Gt(hn::Set(d, first), high), i, out.below[t]);
        }
    }
    moveToPlaces(words, out);
    for (std::size_t t = 0; t < thresholds.size(); ++t) {
        if (thresholds[t] > least && thresholds[t] < -least) continue;
        std::fill_n(out.atLeast[t], words, 0);
        std::fill_n(out.below[t], words, 0);
    }
}

template <typename D, typename Load, typename Threshold>
void clearOf(D d, const Load &loadAt, std::size_t words, std::span<const Threshold> thresholds, bool bandLimited,
             const ClearWords &out)
{
    bandLimited ? clearBits<true>(d, loadAt, words, thresholds, out)
                : clearBits<false>(d, loadAt, words, thresholds, out);
}

void clearOfValues(const double *values, std::size_t words, std::span<const double> thresholds, bool bandLimited,
                   const ClearWords &out)
{
    const hn::CappedTag<double, 8> d;
    clearOf(
        d, [&](std::size_t i) { return hn::LoadU(d, values + i); }, words, thresholds, bandLimited, out);
}

void clearOfShortCodes(const std::int16_t *codes, std::size_t words, std::span<const std::int32_t> thresholds,
                       bool bandLimited, const ClearWords &out)
{
    bandLimited ? clearBitsOfShort<true>(codes, words, thresholds, out)
                : clearBitsOfShort<false>(codes, words, thresholds, out);
}

void clearOfWideCodes(const std::int32_t *codes, std::size_t words, std::span<const std::int32_t> thresholds,
                      bool bandLimited, const ClearWords &out)
{
    const hn::CappedTag<std::int32_t, 16> d;
    clearOf(
        d, [&](std::size_t i) { return hn::LoadU(d, codes + i); }, words, thresholds, bandLimited, out);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(clearOfValues);
HWY_EXPORT(clearOfShortCodes);
HWY_EXPORT(clearOfWideCodes);

void findClear(const double *values, std::size_t words, std::span<const double> thresholds, bool bandLimited,
               const ClearWords &out)
{
    HWY_DYNAMIC_DISPATCH(clearOfValues)(values, words, thresholds, bandLimited, out);
}

void findClear(const std::int16_t *codes, std::size_t words, std::span<const std::int32_t> thresholds, bool bandLimited,
               const ClearWords &out)
{
    HWY_DYNAMIC_DISPATCH(clearOfShortCodes)(codes, words, thresholds, bandLimited, out);
}

void findClear(const std::int32_t *codes, std::size_t words, std::span<const std::int32_t> thresholds, bool bandLimited,
               const ClearWords &out)
{
    HWY_DYNAMIC_DISPATCH(clearOfWideCodes)(codes, words, thresholds, bandLimited, out);
}

} // namespace fulvex
#endif
