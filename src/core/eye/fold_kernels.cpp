#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "fold_kernels.cpp"
#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, 8>;

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

/// In single precision, twice as many at a time. What lies so near a row's border that this might put it into the other
/// one, in one of a hundred vectors, is looked at in double.
void cellsOfShortCodes(const std::int16_t *codes, const CodeScale &scale, const std::uint32_t *phases,
                       std::size_t samples, const FoldGrid &grid, std::int32_t *cells)
{
    // row = code * step + offset with four roundings to 2^-24 of what is rounded: of both factors, product and sum.
    const double step = scale.step * grid.rowsPerUnit, offset = scale.offset * grid.rowsPerUnit - grid.firstRow;
    constexpr double codesMost = 0x1p15;
    const double near = 2 * (3 * codesMost * std::abs(step) + 2 * std::abs(offset)) * 0x1p-24;
    if (!(near < 0x1p-8) || double(grid.rows) * grid.columns > 0x1p24)
        return cellsOfCodes(codes, scale, phases, samples, grid, cells);
    const hn::CappedTag<float, 16> d;
    const hn::Rebind<std::int32_t, decltype(d)> di;
    const hn::Rebind<std::uint32_t, decltype(d)> u;
    const hn::Rebind<std::int16_t, decltype(d)> stored;
    const auto factor = hn::Set(d, float(step)), first = hn::Set(d, float(offset)), zero = hn::Zero(d),
               lastRow = hn::Set(d, float(grid.rows - 1)), across = hn::Set(d, float(grid.columns)),
               middle = hn::Set(d, 0.5F), clear = hn::Set(d, float(0.5 - near));
    const auto columns = hn::Set(u, std::uint32_t(grid.columns));
    for (std::size_t i = 0; i < samples; i += hn::Lanes(d)) {
        const auto code = hn::PromoteTo(di, hn::LoadU(stored, codes + i));
        const auto at = hn::Add(hn::Mul(hn::ConvertTo(d, code), factor), first), row = hn::Floor(at);
        if (HWY_UNLIKELY(!hn::AllTrue(d, hn::Lt(hn::Abs(hn::Sub(hn::Sub(at, row), middle)), clear)))) {
            cellsOfCodes(codes + i, scale, phases + i, hn::Lanes(d), grid, cells + i);
            continue;
        }
        const auto begin = hn::ConvertTo(di, hn::Mul(hn::Min(hn::Max(row, zero), lastRow), across));
        const auto column = hn::BitCast(di, columnsOf(hn::LoadU(u, phases + i), columns));
        hn::StoreU(hn::Add(begin, column), di, cells + i);
    }
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

HWY_EXPORT(cellsOfValues);
HWY_EXPORT(cellsOfShortCodes);
HWY_EXPORT(cellsOfWideCodes);
HWY_EXPORT(sumShortCodes);
HWY_EXPORT(sumWideCodes);
HWY_EXPORT(sumValues);

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
