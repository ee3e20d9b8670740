#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "fold_kernels.cpp"
#include <algorithm>
#include <bit>
#include <cmath>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, LaneSums::lanes>;

/// One for each lane, the first the lowest.
std::uint64_t bitsOf(hn::Mask<Lanes> mask)
{
    std::uint8_t bytes[8] = {};
    hn::StoreMaskBits(Lanes(), mask, bytes);
    return bytes[0];
}

void decideSymbols(const FoldInput &input, std::span<const double> thresholds, std::uint8_t *symbols)
{
    const Lanes d;
    const hn::Rebind<std::int64_t, Lanes> di;
    const hn::Rebind<std::int32_t, Lanes> small;
    const std::size_t lanes = hn::Lanes(d), count = input.slopes.size();
    const auto half = hn::Set(d, 0.5), zero = hn::Zero(d), one = hn::Set(d, 1.0),
               last = hn::Set(d, double(input.samples) - 1), unknown = hn::Set(d, double(thresholds.size()) + 1);
    std::int32_t some[FoldInput::padding];
    for (std::size_t n = 0; n < count; n += lanes) {
        const double *boundaries = input.boundaries.data() + n;
        const auto middle = hn::Mul(hn::Add(hn::LoadU(d, boundaries), hn::LoadU(d, boundaries + 1)), half);
        const auto inside = hn::And(hn::Ge(middle, zero), hn::Lt(middle, last));
        const auto at = hn::IfThenElseZero(inside, middle), left = hn::Trunc(at);
        const auto index = hn::ConvertTo(di, left);
        const auto v = hn::GatherIndex(d, input.values, index), next = hn::GatherIndex(d, input.values + 1, index);
        const auto value = hn::Add(v, hn::Mul(hn::Sub(next, v), hn::Sub(at, left)));
        auto reached = hn::Zero(d);
        for (const double threshold : thresholds)
            reached = hn::Add(reached, hn::IfThenElseZero(hn::Ge(value, hn::Set(d, threshold)), one));
        const auto known = hn::And(inside, hn::Eq(value, value));
        hn::StoreU(hn::DemoteTo(small, hn::IfThenElse(known, reached, unknown)), small, some);
        for (std::size_t lane = 0; lane < lanes; ++lane) symbols[n + lane] = std::uint8_t(some[lane]);
    }
}

/// Samples go by eights; what an eight writes past its unit interval, the next one overwrites.
void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, LaneSums *sums)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto lanes = std::int32_t(hn::Lanes(d));
    constexpr auto eight = std::int32_t(LaneSums::lanes);
    const auto zero = hn::Zero(d), firstRow = hn::Set(d, grid.firstRow), scale = hn::Set(d, grid.rowsPerUnit),
               columns = hn::Set(d, grid.columns), lastRow = hn::Set(d, grid.rows - 1),
               lastColumn = hn::Set(d, grid.columns - 1), nowhere = hn::Set(d, double(grid.rows) * grid.columns),
               middleFrom = hn::Set(d, 0.4), middleTo = hn::Set(d, 0.6), offset = hn::Set(d, origin),
               one = hn::Set(d, 1.0), counting = hn::Iota(d, 0.0);
    const std::int32_t begin = input.starts[first];
    const auto addMiddle = [&](LaneSums &own, auto v, auto phase, std::int32_t lane) {
        const auto used = hn::And(hn::Eq(v, v), hn::And(hn::Ge(phase, middleFrom), hn::Lt(phase, middleTo)));
        const auto value = hn::IfThenElseZero(used, hn::Sub(v, offset));
        double *count = own.count.data() + lane, *sum = own.sum.data() + lane, *squares = own.squares.data() + lane;
        hn::Store(hn::Add(hn::Load(d, count), hn::IfThenElseZero(used, one)), d, count);
        hn::Store(hn::Add(hn::Load(d, sum), value), d, sum);
        hn::Store(hn::Add(hn::Load(d, squares), hn::Mul(value, value)), d, squares);
    };
    for (std::size_t n = first; n < last; ++n) {
        const double from = input.boundaries[n], slope = input.slopes[n];
        const auto boundary = hn::Set(d, from), slopes = hn::Set(d, slope),
                   columnSlopes = hn::Set(d, slope * grid.columns);
        LaneSums &own = sums[input.symbols[n]];
        const bool isShort = input.starts[n + 1] - input.starts[n] <= eight; // its middle is in the same eight
        for (std::int32_t i = input.starts[n]; i < input.starts[n + 1]; i += eight) {
            for (std::int32_t lane = 0; lane < eight; lane += lanes) {
                const auto v = hn::LoadU(d, input.values + i + lane);
                const auto place = hn::Sub(hn::Add(counting, hn::Set(d, double(i + lane))), boundary);
                const auto row = hn::Min(hn::Max(hn::Sub(hn::Floor(hn::Mul(v, scale)), firstRow), zero), lastRow);
                const auto column = hn::Min(hn::Max(hn::Mul(place, columnSlopes), zero), lastColumn);
                const auto cell = hn::Add(hn::Mul(row, columns), hn::Trunc(column));
                hn::StoreU(hn::DemoteTo(di, hn::IfThenElse(hn::Eq(v, v), cell, nowhere)), di,
                           cells + (i - begin) + lane);
                if (isShort) addMiddle(own, v, hn::Mul(place, slopes), lane);
            }
        }
        if (isShort) continue;
        // One sample before the middle fifth, by rounding; phases decide.
        const double length = input.boundaries[n + 1] - from;
        const auto middle = std::max(input.starts[n], std::int32_t(from + 0.4 * length)),
                   behind = std::min(input.starts[n + 1], std::int32_t(from + 0.6 * length) + 2);
        for (std::int32_t i = middle; i < behind; i += eight) {
            for (std::int32_t lane = 0; lane < eight; lane += lanes) {
                const auto place = hn::Sub(hn::Add(counting, hn::Set(d, double(i + lane))), boundary);
                addMiddle(own, hn::LoadU(d, input.values + i + lane), hn::Mul(place, slopes), lane);
            }
        }
    }
}

/// The samples within reach of some boundaries: from `first` to before `last`, whole numbers.
void samplesNear(const FoldInput &input, const std::uint32_t *boundaries, double reach, double *first, double *last)
{
    const Lanes d;
    const hn::Rebind<std::int64_t, Lanes> di;
    const std::size_t lanes = hn::Lanes(d);
    const auto reaches = hn::Set(d, reach), least = hn::Set(d, double(input.starts.front())),
               most = hn::Set(d, double(input.starts.back()));
    alignas(64) std::int64_t places[LaneSums::lanes];
    for (std::size_t lane = 0; lane < LaneSums::lanes; lane += lanes) {
        for (std::size_t k = 0; k < lanes; ++k) places[k] = boundaries[lane + k];
        const auto n = hn::Load(di, places);
        const auto at = hn::GatherIndex(d, input.boundaries.data(), n),
                   before = hn::GatherIndex(d, input.boundaries.data() - 1, n),
                   after = hn::GatherIndex(d, input.boundaries.data() + 1, n);
        const auto from = hn::Ceil(hn::Sub(at, hn::Mul(reaches, hn::Sub(at, before)))),
                   to = hn::Ceil(hn::Add(at, hn::Mul(reaches, hn::Sub(after, at))));
        hn::StoreU(hn::Max(least, from), d, first + lane);
        hn::StoreU(hn::Min(most, to), d, last + lane);
    }
}

void addTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                    std::span<PhaseBin> bins)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> small;
    const hn::CappedTag<double, 4> four;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto from = hn::Set(d, -reach), to = hn::Set(d, reach), zero = hn::Zero(d), one = hn::Set(d, 1.0),
               scale = hn::Set(d, double(bins.size()) / (2 * reach)), lastBin = hn::Set(d, double(bins.size()) - 1);
    alignas(64) double added[4 * LaneSums::lanes]; // to the bins, one behind the other
    std::int32_t places[LaneSums::lanes];
    const auto addSamples = [&](std::uint32_t n, double first, double last) {
        const auto boundary = hn::Set(d, input.boundaries[n]), slopeBefore = hn::Set(d, input.slopes[n - 1]),
                   slopeAfter = hn::Set(d, input.slopes[n]);
        for (double i = first; i < last; i += lanes) {
            const auto v = hn::LoadU(d, input.values + std::int32_t(i)), distance = hn::Sub(hn::Iota(d, i), boundary);
            const auto slope = hn::IfThenElse(hn::Lt(distance, zero), slopeBefore, slopeAfter);
            const auto phase = hn::Mul(distance, slope);
            const auto used = hn::And(hn::Eq(v, v), hn::And(hn::Ge(phase, from), hn::Lt(phase, to)));
            const auto place = hn::Min(hn::Max(hn::Mul(hn::Add(phase, to), scale), zero), lastBin);
            hn::StoreU(hn::DemoteTo(small, place), small, places);
            hn::StoreInterleaved4(one, phase, v, zero, d, added);
            for (std::uint64_t bits = bitsOf(used); bits; bits &= bits - 1) {
                const int lane = std::countr_zero(bits);
                double *const bin = &bins[std::size_t(places[lane])].count;
                for (std::size_t k = 0; k < 4; k += hn::Lanes(four))
                    hn::Store(hn::Add(hn::Load(four, bin + k), hn::Load(four, added + 4 * lane + k)), four, bin + k);
            }
        }
    };
    // By eights: where each begins is not to be waited for.
    constexpr std::size_t eight = LaneSums::lanes;
    double first[eight], last[eight];
    std::uint32_t rest[eight];
    for (std::size_t done = 0; done < boundaries.size(); done += eight) {
        const std::size_t some = std::min(eight, boundaries.size() - done);
        const std::uint32_t *n = boundaries.data() + done;
        if (some < eight) {
            std::fill(std::copy_n(n, some, rest), rest + eight, *n);
            n = rest;
        }
        samplesNear(input, n, reach, first, last);
        for (std::size_t k = 0; k < some; ++k) addSamples(n[k], first[k], last[k]);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(decideSymbols);
HWY_EXPORT(foldUnitIntervals);
HWY_EXPORT(addTransitions);

void decideSymbols(const FoldInput &input, std::span<const double> thresholds, std::uint8_t *symbols)
{
    HWY_DYNAMIC_DISPATCH(decideSymbols)(input, thresholds, symbols);
}

void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, LaneSums *sums)
{
    HWY_DYNAMIC_DISPATCH(foldUnitIntervals)(input, first, last, grid, origin, cells, sums);
}

void addTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                    std::span<PhaseBin> bins)
{
    HWY_DYNAMIC_DISPATCH(addTransitions)(input, boundaries, reach, bins);
}

} // namespace fulvex
#endif
