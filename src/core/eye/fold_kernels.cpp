#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "fold_kernels.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <algorithm>
#include <cmath>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, LaneSums::lanes>;

/// Samples go by eights; what an eight writes past its unit interval, the next one overwrites.
void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, LaneSums *sums)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto zero = hn::Zero(d), low = hn::Set(d, grid.low), scale = hn::Set(d, grid.rowsPerVolt),
               columns = hn::Set(d, grid.columns), lastRow = hn::Set(d, grid.rows - 1),
               lastColumn = hn::Set(d, grid.columns - 1), nowhere = hn::Set(d, double(grid.rows) * grid.columns),
               middleFrom = hn::Set(d, 0.4), middleTo = hn::Set(d, 0.6), offset = hn::Set(d, origin),
               one = hn::Set(d, 1.0);
    const std::int32_t begin = input.starts[first];
    for (std::size_t n = first; n < last; ++n) {
        const double from = input.boundaries[n];
        const auto boundary = hn::Set(d, from), slope = hn::Set(d, 1 / (input.boundaries[n + 1] - from));
        LaneSums &own = sums[std::size_t(input.symbols[n])];
        for (std::int32_t i = input.starts[n]; i < input.starts[n + 1]; i += std::int32_t(LaneSums::lanes)) {
            for (std::int32_t lane = 0; lane < std::int32_t(LaneSums::lanes); lane += lanes) {
                const auto v = hn::LoadU(d, input.volts + i + lane), known = hn::VecFromMask(d, hn::Eq(v, v));
                const auto phase = hn::Mul(hn::Sub(hn::Iota(d, double(i + lane)), boundary), slope);
                const auto row = hn::Min(hn::Max(hn::Mul(hn::Sub(v, low), scale), zero), lastRow);
                const auto column = hn::Min(hn::Max(hn::Mul(phase, columns), zero), lastColumn);
                const auto cell = hn::Add(hn::Mul(hn::Trunc(row), columns), hn::Trunc(column));
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
    double *phases = samples.phases.data(), *volts = samples.volts.data();
    std::size_t count = samples.count;
    for (const std::uint32_t n : boundaries) {
        const double at = input.boundaries[n], before = at - input.boundaries[n - 1],
                     after = input.boundaries[n + 1] - at;
        const auto boundary = hn::Set(d, at), slopeBefore = hn::Set(d, 1 / before), slopeAfter = hn::Set(d, 1 / after);
        const auto first = std::max(input.starts.front(), std::int32_t(std::ceil(at - reach * before)));
        const auto last = std::min(input.starts.back(), std::int32_t(std::ceil(at + reach * after)));
        for (std::int32_t i = first; i < last; i += lanes) {
            const auto v = hn::LoadU(d, input.volts + i), distance = hn::Sub(hn::Iota(d, double(i)), boundary);
            const auto slope = hn::IfThenElse(hn::Lt(distance, hn::Zero(d)), slopeBefore, slopeAfter);
            const auto phase = hn::Mul(distance, slope);
            const auto used = hn::And(hn::Eq(v, v), hn::And(hn::Ge(phase, from), hn::Lt(phase, to)));
            hn::CompressStore(v, used, d, volts + count);
            count += hn::CompressStore(phase, used, d, phases + count);
        }
    }
    samples.count = count;
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(foldUnitIntervals);
HWY_EXPORT(appendTransitions);

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
