#include "symbol_words.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "symbol_words.cpp"
#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
#if HWY_ARCH_X86
#include <immintrin.h>
#endif

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

#if HWY_TARGET == HWY_AVX2 || HWY_TARGET == HWY_AVX3 || HWY_TARGET == HWY_AVX3_DL // with its bit manipulation
std::uint64_t gathered(std::uint64_t from, std::uint64_t at)
{
    return _pext_u64(from, at);
}

std::uint64_t scattered(std::uint64_t from, std::uint64_t to)
{
    return _pdep_u64(from, to);
}
#else
std::uint64_t gathered(std::uint64_t from, std::uint64_t at)
{
    std::uint64_t bits = 0;
    for (int i = 0; at; ++i, at &= at - 1) bits |= (from >> std::countr_zero(at) & 1) << i;
    return bits;
}

std::uint64_t scattered(std::uint64_t from, std::uint64_t to)
{
    std::uint64_t bits = 0;
    for (; to; from >>= 1, to &= to - 1) bits |= (from & 1) << std::countr_zero(to);
    return bits;
}
#endif

std::size_t bitsOf(std::span<const std::uint64_t> words)
{
    std::size_t count = 0;
    for (const std::uint64_t word : words) count += std::size_t(std::popcount(word));
    return count;
}

std::size_t placeOfBit(std::span<const std::uint64_t> words, std::size_t before)
{
    std::size_t w = 0;
    for (std::size_t count = 0; before >= (count = std::size_t(std::popcount(words[w]))); ++w) before -= count;
    return w * 64 + std::size_t(std::countr_zero(scattered(std::uint64_t(1) << before, words[w])));
}

void gatherBits(std::span<const std::uint64_t> from, std::span<const std::uint64_t> at, std::size_t first,
                std::uint64_t *row)
{
    std::size_t place = first;
    std::uint64_t open = row[place / 64] & ((std::uint64_t(1) << place % 64) - 1); // the word that is being filled
    for (std::size_t w = 0; w < at.size(); ++w) {
        const std::uint64_t bits = gathered(from[w], at[w]);
        const std::size_t shift = place % 64, count = std::size_t(std::popcount(at[w]));
        row[place / 64] = open | bits << shift;
        if (shift + count >= 64) {
            open = bits >> 1 >> (63 - shift);
            row[place / 64 + 1] = open;
        } else {
            open |= bits << shift;
        }
        place += count;
    }
}

/// A span of places is what is below its end, less what is below its begin. Of the ends one place on and the begins of
/// those whose bit is set, that is one subtraction for all; a span that goes on behind the word has no end in it.
void spreadBits(const BitRow &row, std::size_t first, std::span<const std::uint64_t> at, std::uint64_t *out)
{
    std::size_t place = first;
    for (std::size_t w = 0; w < at.size(); ++w) {
        const std::uint64_t bits = row.from(place), ends = at[w], begins = ends << 1 | 1;
        out[w] = (scattered(bits, ends) << 1) - scattered(bits, begins);
        place += std::size_t(std::popcount(ends));
    }
}

bool passedBits(std::span<const double> positions, double origin, std::span<std::uint64_t> words)
{
    const hn::CappedTag<double, 8> d;
    const hn::Rebind<std::int32_t, decltype(d)> di;
    const std::size_t lanes = hn::Lanes(d), size = positions.size();
    const auto least = hn::Set(d, 1.001), base = hn::Set(d, origin);
    constexpr std::size_t some = 64;
    std::array<std::int32_t, some> places;
    std::uint64_t word = 0;
    std::size_t at = 0;
    for (std::size_t first = 0; first < size; first += some) {
        const std::size_t count = std::min(some, size - first);
        const double *const own = positions.data() + first;
        auto ascending = hn::Eq(base, base); // all
        std::size_t k = 0;
        for (; k + lanes < count || (k + lanes == count && first + count < size); k += lanes) {
            const auto position = hn::LoadU(d, own + k);
            ascending = hn::And(ascending, hn::Gt(hn::Sub(hn::LoadU(d, own + k + 1), position), least));
            hn::StoreU(hn::DemoteTo(di, hn::Ceil(hn::Sub(position, base))), di, places.data() + k);
        }
        bool ascends = hn::AllTrue(d, ascending);
        for (; k < count; ++k) {
            ascends &= first + k + 1 == size || own[k + 1] - own[k] > 1.001;
            places[k] = std::int32_t(std::ceil(own[k] - origin));
        }
        if (!ascends || places[0] < 1 || std::size_t(places[count - 1]) > words.size() * 64) return false;
        for (k = 0; k < count; ++k) {
            const auto place = std::size_t(places[k] - 1);
            for (; at < place / 64; word = 0) words[at++] = word;
            word |= std::uint64_t(1) << place % 64;
        }
    }
    for (; at < words.size(); word = 0) words[at++] = word;
    return true;
}

void bitsEqual(const std::uint8_t *bytes, std::size_t count, std::uint8_t value, std::uint64_t *row)
{
    const hn::CappedTag<std::uint8_t, 64> d;
    const auto wanted = hn::Set(d, value);
    auto *const out = reinterpret_cast<std::uint8_t *>(row);
    for (std::size_t i = 0; i < count; i += hn::Lanes(d))
        hn::StoreMaskBits(d, hn::Eq(hn::LoadU(d, bytes + i), wanted), out + i / 8);
}

void addBits(const std::uint64_t *row, std::size_t count, std::uint8_t *bytes)
{
    const hn::CappedTag<std::uint8_t, 64> d;
    const auto one = hn::Set(d, std::uint8_t(1));
    const auto *const in = reinterpret_cast<const std::uint8_t *>(row);
    for (std::size_t i = 0; i < count; i += hn::Lanes(d))
        hn::StoreU(hn::Add(hn::LoadU(d, bytes + i), hn::IfThenElseZero(hn::LoadMaskBits(d, in + i / 8), one)), d,
                   bytes + i);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(bitsOf);
HWY_EXPORT(placeOfBit);
HWY_EXPORT(gatherBits);
HWY_EXPORT(spreadBits);
HWY_EXPORT(passedBits);
HWY_EXPORT(bitsEqual);
HWY_EXPORT(addBits);

void BitRow::resize(std::size_t count)
{
    m_size = count;
    m_words.resize(count / 64 + 3);
}

bool passedBits(std::span<const double> positions, double origin, std::span<std::uint64_t> words)
{
    return HWY_DYNAMIC_DISPATCH(passedBits)(positions, origin, words);
}

void bitsEqual(const std::uint8_t *bytes, std::size_t count, std::uint8_t value, BitRow &row)
{
    row.resize(count);
    HWY_DYNAMIC_DISPATCH(bitsEqual)(bytes, count, value, row.words());
    std::fill(row.words() + count / 64, row.words() + count / 64 + 2, 0);
}

void addBits(const BitRow &row, std::size_t count, std::uint8_t *bytes)
{
    HWY_DYNAMIC_DISPATCH(addBits)(row.words(), count, bytes);
}

std::size_t bitsOf(std::span<const std::uint64_t> words)
{
    return HWY_DYNAMIC_DISPATCH(bitsOf)(words);
}

std::size_t placeOfBit(std::span<const std::uint64_t> words, std::size_t before)
{
    return HWY_DYNAMIC_DISPATCH(placeOfBit)(words, before);
}

void gatherBits(std::span<const std::uint64_t> from, std::span<const std::uint64_t> at, std::size_t first, BitRow &row)
{
    HWY_DYNAMIC_DISPATCH(gatherBits)(from, at, first, row.words());
}

void spreadBits(const BitRow &row, std::size_t first, std::span<const std::uint64_t> at, std::uint64_t *out)
{
    HWY_DYNAMIC_DISPATCH(spreadBits)(row, first, at, out);
}

} // namespace fulvex
#endif
