#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "fold_kernels.cpp"
#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
// clang-format off
#include "put_bits-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr std::size_t sixteen = 16; ///< samples that a line is laid along at a time, whatever the vectors are
using Whole = hn::CappedTag<std::uint32_t, sixteen>;
using Lanes = hn::CappedTag<double, 8>;

/// Where some lines begin: their first samples, and the phases and steps there.
struct LineStarts {
    static constexpr std::size_t most = 64;
    std::array<std::int32_t, most + ClockLines::padding> first, phase, step;
};

void layStarts(const ClockLines &lines, std::size_t from, std::size_t count, double samples, LineStarts &out)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto origin = hn::Set(d, lines.origin), zero = hn::Zero(d), last = hn::Set(d, samples), one = hn::Set(d, 1.0),
               unit = hn::Set(d, double(ClockPhase::unitInterval));
    for (std::size_t k = 0; k < count; k += hn::Lanes(d)) {
        const auto at = hn::Sub(hn::LoadU(d, lines.from + from + k), origin);
        const auto first = hn::Min(hn::Max(hn::Ceil(at), zero), last);
        const auto slope = hn::Mul(hn::Div(one, hn::LoadU(d, lines.step + from + k)), unit);
        hn::StoreU(hn::DemoteTo(di, first), di, out.first.data() + k);
        hn::StoreU(hn::DemoteTo(di, hn::Round(hn::Mul(hn::Sub(first, at), slope))), di, out.phase.data() + k);
        hn::StoreU(hn::DemoteTo(di, hn::Round(slope)), di, out.step.data() + k);
    }
}

/// Line by line, sixteen samples at least: what is written past a line, the next one overwrites.
void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases)
{
    const Whole u;
    const auto counting = hn::Iota(u, 0);
    const auto lay = [&](std::uint32_t phase, std::uint32_t step, std::uint32_t *out) {
        const auto steps = hn::Set(u, step);
        auto at = hn::Add(hn::Set(u, phase), hn::Mul(counting, steps));
        const auto vector = hn::Set(u, step * std::uint32_t(hn::Lanes(u)));
        for (std::size_t i = 0; i < sixteen; i += hn::Lanes(u), at = hn::Add(at, vector)) hn::StoreU(at, u, out + i);
    };
    LineStarts starts;
    const std::size_t size = lines.number.size();
    for (std::size_t done = 0; done < size; done += LineStarts::most) {
        const std::size_t count = std::min(LineStarts::most, size - done);
        layStarts(lines, done, std::min(count + 1, size - done), double(samples), starts);
        if (done + count == size) starts.first[count] = std::int32_t(samples);
        for (std::size_t k = 0; k < count; ++k) {
            const auto number = std::uint32_t(lines.number[done + k]) << ClockPhase::bits;
            const auto step = std::uint32_t(starts.step[k]);
            const std::int32_t first = starts.first[k], end = starts.first[k + 1];
            lay(number + std::uint32_t(starts.phase[k]), step, phases + first);
            // A long one is begun anew, so that steps' rounding does not add up.
            for (std::int32_t i = first + std::int32_t(sixteen); HWY_UNLIKELY(i < end); i += std::int32_t(sixteen)) {
                const double along = (double(i) - (lines.from[done + k] - lines.origin)) / lines.step[done + k];
                lay(number + std::uint32_t(std::int64_t(along * ClockPhase::unitInterval + 0.5)), step, phases + i);
            }
        }
    }
}

void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out)
{
    const Whole u;
    const hn::RebindToSigned<Whole> s;
    const auto half = hn::Set(u, ClockPhase::half), number = hn::Set(u, ~ClockPhase::within), none = hn::Zero(u);
    // The phase alone, of 32 bits: a comparison with a half is one with the sign.
    constexpr double all = 4294967296.0;
    const auto quarter = hn::Set(u, std::uint32_t(all / 4)), from = hn::Set(u, std::uint32_t(0.4 * all)),
               fifth = hn::Set(u, std::uint32_t(0.2 * all));
    const auto isNegative = [&](auto v) { return hn::RebindMask(u, hn::Lt(hn::BitCast(s, v), hn::Zero(s))); };
    for (std::size_t i = 0; i < 64 * words; i += hn::Lanes(u)) {
        const auto at = hn::LoadU(u, phases + i), next = hn::LoadU(u, phases + i + 1);
        const auto passed = hn::And(hn::Xor(hn::Add(at, half), hn::Add(next, half)), number);
        const auto phase = hn::ShiftLeft<32 - ClockPhase::bits>(at);
        putBits(u, hn::Ne(passed, none), i, out.middles);
        putBits(u, isNegative(phase), i, out.behind);
        putBits(u, hn::Lt(hn::Sub(phase, from), fifth), i, out.centre);
        putBits(u, hn::Not(isNegative(hn::Add(phase, quarter))), i, out.edge);
    }
}

/// Columns of phases: the upper half of a product of 64 bits.
template <typename V>
V columnsOf(V phases, V columns)
{
    const hn::DFromV<V> u;
    const hn::Repartition<std::uint64_t, decltype(u)> wide;
    const auto scaled = hn::ShiftLeft<32 - ClockPhase::bits>(phases);
    const auto even = hn::ShiftRight<32>(hn::MulEven(scaled, columns));
    const auto odd = hn::MulEven(hn::BitCast(u, hn::ShiftRight<32>(hn::BitCast(wide, scaled))), columns);
    return hn::OddEven(hn::BitCast(u, odd), hn::BitCast(u, even));
}

/// `valuesAt(i)`: the values of some samples from i on.
template <bool mayHaveGaps, typename ValuesAt>
void cellsOf(ValuesAt valuesAt, const std::uint32_t *phases, std::size_t samples, const FoldGrid &grid,
             std::int32_t *cells)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const hn::Rebind<std::uint32_t, Lanes> u;
    const auto zero = hn::Zero(d), firstRow = hn::Set(d, grid.firstRow), scale = hn::Set(d, grid.rowsPerUnit),
               across = hn::Set(d, grid.columns), lastRow = hn::Set(d, grid.rows - 1);
    const auto columns = hn::Set(u, std::uint32_t(grid.columns));
    const auto nowhere = hn::Set(di, grid.rows * grid.columns);
    for (std::size_t i = 0; i < samples; i += hn::Lanes(d)) {
        const auto v = valuesAt(i);
        const auto row = hn::Min(hn::Max(hn::Sub(hn::Floor(hn::Mul(v, scale)), firstRow), zero), lastRow);
        const auto column = hn::BitCast(di, columnsOf(hn::LoadU(u, phases + i), columns));
        auto cell = hn::Mul(row, across);
        if constexpr (mayHaveGaps) // behind the last one, whatever its column
            cell = hn::IfThenElse(hn::Eq(v, v), cell, hn::Set(d, double(grid.rows) * grid.columns));
        const auto all = hn::Add(hn::DemoteTo(di, cell), column);
        hn::StoreU(mayHaveGaps ? hn::Min(all, nowhere) : all, di, cells + i);
    }
}

void cellsOfValues(const double *values, const std::uint32_t *phases, std::size_t samples, const FoldGrid &grid,
                   std::int32_t *cells)
{
    const Lanes d;
    cellsOf<true>([&](std::size_t i) { return hn::LoadU(d, values + i); }, phases, samples, grid, cells);
}

template <typename Code>
void cellsOfCodes(const Code *codes, const CodeScale &scale, const std::uint32_t *phases, std::size_t samples,
                  const FoldGrid &grid, std::int32_t *cells)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const hn::Rebind<Code, Lanes> stored;
    const auto step = hn::Set(d, scale.step), offset = hn::Set(d, scale.offset);
    const auto valuesAt = [&](std::size_t i) {
        const auto read = hn::LoadU(stored, codes + i);
        if constexpr (sizeof(Code) < sizeof(std::int32_t))
            return hn::Add(hn::Mul(hn::PromoteTo(d, hn::PromoteTo(di, read)), step), offset);
        else
            return hn::Add(hn::Mul(hn::PromoteTo(d, read), step), offset);
    };
    cellsOf<false>(valuesAt, phases, samples, grid, cells);
}

void cellsOfShortCodes(const std::int16_t *codes, const CodeScale &scale, const std::uint32_t *phases,
                       std::size_t samples, const FoldGrid &grid, std::int32_t *cells)
{
    cellsOfCodes(codes, scale, phases, samples, grid, cells);
}

void cellsOfWideCodes(const std::int32_t *codes, const CodeScale &scale, const std::uint32_t *phases,
                      std::size_t samples, const FoldGrid &grid, std::int32_t *cells)
{
    cellsOfCodes(codes, scale, phases, samples, grid, cells);
}

/// The bits from one on.
template <typename D>
hn::Mask<D> maskOf(D d, std::uint64_t bits, std::size_t from)
{
    const std::uint64_t part = bits >> from;
    std::uint8_t bytes[8];
    std::memcpy(bytes, &part, sizeof part);
    return hn::LoadMaskBits(d, bytes);
}

template <typename D, typename V>
std::int64_t sumOfLanes(D d, V v)
{
    HWY_ALIGN hn::TFromD<D> lanes[HWY_MAX_BYTES / sizeof(hn::TFromD<D>)];
    hn::Store(v, d, lanes);
    std::int64_t sum = 0;
    for (std::size_t i = 0; i < hn::Lanes(d); ++i) sum += std::int64_t(lanes[i]);
    return sum;
}

/// All codes of a word, those that are not chosen as 0: how many are cannot be foreseen. Pairs of squares have 32 bits
/// and are widened at once; sums of pairs wait for the end of some words.
CodeSums sumShortCodes(const std::int16_t *codes, std::span<const std::uint64_t> chosen)
{
    const hn::CappedTag<std::int16_t, 32> d;
    const hn::Repartition<std::int32_t, decltype(d)> wide;
    const hn::Repartition<std::uint64_t, decltype(d)> widest;
    const auto ones = hn::Set(d, std::int16_t(1));
    const auto low = hn::Set(widest, 0xffffffff);
    CodeSums all;
    auto squares = hn::Zero(widest);
    constexpr std::size_t some = 2048; // of which sums stay below 2^31, in four lanes as well
    for (std::size_t first = 0; first < chosen.size(); first += some) {
        auto sums = hn::Zero(wide);
        for (std::size_t w = first; w < std::min(first + some, chosen.size()); ++w) {
            const std::uint64_t bits = chosen[w];
            all.count += std::popcount(bits);
            for (std::size_t i = 0; i < 64; i += hn::Lanes(d)) {
                const auto code = hn::IfThenElseZero(maskOf(d, bits, i), hn::LoadU(d, codes + w * 64 + i));
                auto none = hn::Zero(wide);
                sums = hn::ReorderWidenMulAccumulate(wide, code, ones, sums, none);
                const auto pairs =
                    hn::BitCast(widest, hn::ReorderWidenMulAccumulate(wide, code, code, hn::Zero(wide), none));
                squares = hn::Add(squares, hn::Add(hn::And(pairs, low), hn::ShiftRight<32>(pairs)));
            }
        }
        all.sum += sumOfLanes(wide, sums);
    }
    all.squares = sumOfLanes(widest, squares);
    return all;
}

/// Squares have 64 bits; sums of 32 wait for the end of some words.
CodeSums sumWideCodes(const std::int32_t *codes, std::span<const std::uint64_t> chosen)
{
    const hn::CappedTag<std::int32_t, 16> d;
    const hn::Repartition<std::int64_t, decltype(d)> wide;
    CodeSums all;
    auto squares = hn::Zero(wide);
    constexpr std::size_t some = 1024; // of which sums stay below 2^31, in four lanes as well
    for (std::size_t first = 0; first < chosen.size(); first += some) {
        auto sums = hn::Zero(d);
        for (std::size_t w = first; w < std::min(first + some, chosen.size()); ++w) {
            all.count += std::popcount(chosen[w]);
            for (std::size_t i = 0; i < 64; i += hn::Lanes(d)) {
                const auto even = hn::IfThenElseZero(maskOf(d, chosen[w], i), hn::LoadU(d, codes + w * 64 + i)),
                           odd = hn::BitCast(d, hn::ShiftRight<32>(hn::BitCast(wide, even)));
                sums = hn::Add(sums, even);
                squares = hn::Add(squares, hn::Add(hn::MulEven(even, even), hn::MulEven(odd, odd)));
            }
        }
        all.sum += sumOfLanes(d, sums);
    }
    all.squares = sumOfLanes(wide, squares);
    return all;
}

/// Eight sums side by side, in as many vectors as that takes.
ValueSums sumValues(const double *values, double origin, std::span<const std::uint64_t> chosen)
{
    const Lanes d;
    constexpr std::size_t eight = 8;
    HWY_ALIGN double sums[eight] = {}, squares[eight] = {};
    const auto middle = hn::Set(d, origin);
    ValueSums all;
    for (std::size_t lane = 0; lane < eight; lane += hn::Lanes(d)) {
        auto sum = hn::Zero(d), square = sum;
        for (std::size_t w = 0; w < chosen.size(); ++w) {
            for (std::size_t i = lane; i < 64; i += eight) {
                const auto off =
                    hn::IfThenElseZero(maskOf(d, chosen[w], i), hn::Sub(hn::LoadU(d, values + w * 64 + i), middle));
                sum = hn::Add(sum, off);
                square = hn::Add(square, hn::Mul(off, off));
            }
        }
        hn::Store(sum, d, sums + lane);
        hn::Store(square, d, squares + lane);
    }
    for (const std::uint64_t bits : chosen) all.count += std::popcount(bits);
    for (std::size_t lane = 0; lane < eight; ++lane) {
        all.sum += sums[lane];
        all.squares += squares[lane];
    }
    return all;
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(layPhases);
HWY_EXPORT(phaseWords);
HWY_EXPORT(cellsOfValues);
HWY_EXPORT(cellsOfShortCodes);
HWY_EXPORT(cellsOfWideCodes);
HWY_EXPORT(sumShortCodes);
HWY_EXPORT(sumWideCodes);
HWY_EXPORT(sumValues);

void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases)
{
    HWY_DYNAMIC_DISPATCH(layPhases)(lines, samples, phases);
}

void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out)
{
    HWY_DYNAMIC_DISPATCH(phaseWords)(phases, words, out);
}

void foldCells(const double *values, const std::uint32_t *phases, std::size_t samples, const FoldGrid &grid,
               std::int32_t *cells)
{
    HWY_DYNAMIC_DISPATCH(cellsOfValues)(values, phases, samples, grid, cells);
}

void foldCells(const std::int16_t *codes, const CodeScale &scale, const std::uint32_t *phases, std::size_t samples,
               const FoldGrid &grid, std::int32_t *cells)
{
    HWY_DYNAMIC_DISPATCH(cellsOfShortCodes)(codes, scale, phases, samples, grid, cells);
}

void foldCells(const std::int32_t *codes, const CodeScale &scale, const std::uint32_t *phases, std::size_t samples,
               const FoldGrid &grid, std::int32_t *cells)
{
    HWY_DYNAMIC_DISPATCH(cellsOfWideCodes)(codes, scale, phases, samples, grid, cells);
}

CodeSums sumCodes(const std::int16_t *codes, std::span<const std::uint64_t> chosen)
{
    return HWY_DYNAMIC_DISPATCH(sumShortCodes)(codes, chosen);
}

CodeSums sumCodes(const std::int32_t *codes, std::span<const std::uint64_t> chosen)
{
    return HWY_DYNAMIC_DISPATCH(sumWideCodes)(codes, chosen);
}

ValueSums sumValues(const double *values, double origin, std::span<const std::uint64_t> chosen)
{
    return HWY_DYNAMIC_DISPATCH(sumValues)(values, origin, chosen);
}

} // namespace fulvex
#endif
