#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "fold_kernels.cpp"
#include <algorithm>
#include <cmath>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, LaneSums::lanes>;

void decideSymbols(const FoldInput &input, double threshold, std::span<SymbolBits> symbols)
{
    const Lanes d;
    const hn::Rebind<std::int64_t, Lanes> di;
    const std::size_t lanes = hn::Lanes(d), count = input.slopes.size();
    const auto half = hn::Set(d, 0.5), level = hn::Set(d, threshold), zero = hn::Zero(d),
               last = hn::Set(d, double(input.samples) - 1);
    const auto bitsOf = [&](auto mask) {
        std::uint8_t bytes[8] = {};
        hn::StoreMaskBits(d, mask, bytes);
        return std::uint64_t(bytes[0]);
    };
    for (std::size_t word = 0; word < symbols.size(); ++word) {
        SymbolBits bits;
        for (std::size_t i = 0; i < 64 && word * 64 + i < count; i += lanes) {
            const double *boundaries = input.boundaries.data() + word * 64 + i;
            const auto middle = hn::Mul(hn::Add(hn::LoadU(d, boundaries), hn::LoadU(d, boundaries + 1)), half);
            const auto inside = hn::And(hn::Ge(middle, zero), hn::Lt(middle, last));
            const auto at = hn::IfThenElseZero(inside, middle), left = hn::Trunc(at);
            const auto index = hn::ConvertTo(di, left);
            const auto v = hn::GatherIndex(d, input.values, index), next = hn::GatherIndex(d, input.values + 1, index);
            const auto value = hn::Add(v, hn::Mul(hn::Sub(next, v), hn::Sub(at, left)));
            const auto known = hn::And(inside, hn::Eq(value, value));
            bits.ones |= bitsOf(hn::And(known, hn::Ge(value, level))) << i;
            bits.unknowns |= bitsOf(hn::Not(known)) << i;
        }
        symbols[word] = bits;
    }
}

/// Samples go by eights; what an eight writes past its unit interval, the next one overwrites.
void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, LaneSums *sums)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto zero = hn::Zero(d), firstRow = hn::Set(d, grid.firstRow), scale = hn::Set(d, grid.rowsPerUnit),
               columns = hn::Set(d, grid.columns), lastRow = hn::Set(d, grid.rows - 1),
               lastColumn = hn::Set(d, grid.columns - 1), nowhere = hn::Set(d, double(grid.rows) * grid.columns),
               middleFrom = hn::Set(d, 0.4), middleTo = hn::Set(d, 0.6), offset = hn::Set(d, origin),
               one = hn::Set(d, 1.0);
    const std::int32_t begin = input.starts[first];
    for (std::size_t n = first; n < last; ++n) {
        const auto boundary = hn::Set(d, input.boundaries[n]), slope = hn::Set(d, input.slopes[n]);
        LaneSums &own = sums[input.symbols[n / 64].at(n % 64)];
        for (std::int32_t i = input.starts[n]; i < input.starts[n + 1]; i += std::int32_t(LaneSums::lanes)) {
            for (std::int32_t lane = 0; lane < std::int32_t(LaneSums::lanes); lane += lanes) {
                const auto v = hn::LoadU(d, input.values + i + lane), known = hn::VecFromMask(d, hn::Eq(v, v));
                const auto phase = hn::Mul(hn::Sub(hn::Iota(d, double(i + lane)), boundary), slope);
                const auto row = hn::Min(hn::Max(hn::Sub(hn::Floor(hn::Mul(v, scale)), firstRow), zero), lastRow);
                const auto column = hn::Min(hn::Max(hn::Mul(phase, columns), zero), lastColumn);
                const auto cell = hn::Add(hn::Mul(row, columns), hn::Trunc(column));
                const auto isKnown = hn::MaskFromVec(known);
                hn::StoreU(hn::DemoteTo(di, hn::IfThenElse(isKnown, cell, nowhere)), di, cells + (i - begin) + lane);

                const auto inMiddle = hn::And(isKnown, hn::And(hn::Ge(phase, middleFrom), hn::Lt(phase, middleTo)));
                const auto value = hn::IfThenElseZero(inMiddle, hn::Sub(v, offset));
                double *count = own.count.data() + lane, *sum = own.sum.data() + lane,
                       *squares = own.squares.data() + lane;
                hn::Store(hn::Add(hn::Load(d, count), hn::IfThenElseZero(inMiddle, one)), d, count);
                hn::Store(hn::Add(hn::Load(d, sum), value), d, sum);
                hn::Store(hn::Add(hn::Load(d, squares), hn::Mul(value, value)), d, squares);
            }
        }
    }
}

void appendTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                       TransitionSamples &samples)
{
    const Lanes d;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto from = hn::Set(d, -reach), to = hn::Set(d, reach);
    double *phases = samples.phases.data(), *values = samples.values.data();
    std::size_t count = samples.count;
    for (const std::uint32_t n : boundaries) {
        const double at = input.boundaries[n], before = at - input.boundaries[n - 1],
                     after = input.boundaries[n + 1] - at;
        const auto boundary = hn::Set(d, at), slopeBefore = hn::Set(d, input.slopes[n - 1]),
                   slopeAfter = hn::Set(d, input.slopes[n]);
        const auto first = std::max(input.starts.front(), std::int32_t(std::ceil(at - reach * before)));
        const auto last = std::min(input.starts.back(), std::int32_t(std::ceil(at + reach * after)));
        for (std::int32_t i = first; i < last; i += lanes) {
            const auto v = hn::LoadU(d, input.values + i), distance = hn::Sub(hn::Iota(d, double(i)), boundary);
            const auto slope = hn::IfThenElse(hn::Lt(distance, hn::Zero(d)), slopeBefore, slopeAfter);
            const auto phase = hn::Mul(distance, slope);
            const auto used = hn::And(hn::Eq(v, v), hn::And(hn::Ge(phase, from), hn::Lt(phase, to)));
            hn::CompressStore(v, used, d, values + count);
            count += hn::CompressStore(phase, used, d, phases + count);
        }
    }
    samples.count = count;
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(decideSymbols);
HWY_EXPORT(foldUnitIntervals);
HWY_EXPORT(appendTransitions);

void decideSymbols(const FoldInput &input, double threshold, std::span<SymbolBits> symbols)
{
    HWY_DYNAMIC_DISPATCH(decideSymbols)(input, threshold, symbols);
}

void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, LaneSums *sums)
{
    HWY_DYNAMIC_DISPATCH(foldUnitIntervals)(input, first, last, grid, origin, cells, sums);
}

void appendTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                       TransitionSamples &samples)
{
    HWY_DYNAMIC_DISPATCH(appendTransitions)(input, boundaries, reach, samples);
}

} // namespace fulvex
#endif
