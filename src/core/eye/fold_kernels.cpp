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
                       std::int32_t *cells, std::span<LaneSums> sums)
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
    LaneSums unknown;
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
        LaneSums &own = input.symbols[n] < sums.size() ? sums[input.symbols[n]] : unknown;
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

/// Of unit intervals of a few samples most of a vector would be empty. Each run of them is one straight line: what a
/// whole number is taken off of is the phase. What a vector writes past its run, the next one overwrites.
void shortCells(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, std::int32_t *cells)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto zero = hn::Zero(d), firstRow = hn::Set(d, grid.firstRow), scale = hn::Set(d, grid.rowsPerUnit),
               columns = hn::Set(d, grid.columns), lastRow = hn::Set(d, grid.rows - 1),
               lastColumn = hn::Set(d, grid.columns - 1), nowhere = hn::Set(d, double(grid.rows) * grid.columns),
               counting = hn::Iota(d, 0.0);
    const std::int32_t begin = input.starts[first];
    const auto behind = std::upper_bound(input.runs.begin(), input.runs.end(), first);
    for (auto run = behind - 1; run != input.runs.end() && *run < last; ++run) {
        const std::size_t next = run + 1 == input.runs.end() ? last : std::min<std::size_t>(last, run[1]);
        const auto boundary = hn::Set(d, input.boundaries[*run]), slope = hn::Set(d, input.slopes[*run]);
        const std::int32_t end = input.starts[next];
        for (std::int32_t i = input.starts[std::max<std::size_t>(first, *run)]; i < end; i += lanes) {
            const auto v = hn::LoadU(d, input.values + i);
            const auto at = hn::Mul(hn::Sub(hn::Add(counting, hn::Set(d, double(i))), boundary), slope);
            const auto phase = hn::Sub(at, hn::Floor(at));
            const auto row = hn::Min(hn::Max(hn::Sub(hn::Floor(hn::Mul(v, scale)), firstRow), zero), lastRow);
            const auto column = hn::Min(hn::Mul(phase, columns), lastColumn);
            const auto cell = hn::Add(hn::Mul(row, columns), hn::Trunc(column));
            hn::StoreU(hn::DemoteTo(di, hn::IfThenElse(hn::Eq(v, v), cell, nowhere)), di, cells + (i - begin));
        }
    }
}

/// Of eight unit intervals side by side one sample each, as long as one of them has more.
void addShortMiddles(const FoldInput &input, std::size_t first, std::size_t last, double origin,
                     std::span<LaneSums> sums)
{
    const Lanes d;
    const hn::Rebind<std::int64_t, Lanes> di;
    const hn::Rebind<std::uint8_t, Lanes> bytes;
    const hn::Rebind<std::int32_t, Lanes> small;
    const std::size_t lanes = hn::Lanes(d);
    constexpr double from = 0.4, to = 0.6;
    const auto offset = hn::Set(d, origin), one = hn::Set(d, 1.0), zero = hn::Zero(d), least = hn::Set(d, from),
               most = hn::Set(d, to), samples = hn::Set(d, double(input.samples));
    for (std::size_t n = first; n < last; n += LaneSums::lanes) {
        for (std::size_t lane = 0; lane < LaneSums::lanes && n + lane < last; lane += lanes) {
            const double *boundaries = input.boundaries.data() + n + lane;
            const auto boundary = hn::LoadU(d, boundaries), length = hn::Sub(hn::LoadU(d, boundaries + 1), boundary);
            const auto slope = hn::LoadU(d, input.slopes.data() + n + lane);
            const auto symbol =
                hn::PromoteTo(d, hn::PromoteTo(small, hn::LoadU(bytes, input.symbols.data() + n + lane)));
            const auto own = hn::Lt(hn::Iota(d, double(n + lane)), hn::Set(d, double(last)));
            // One sample before, by rounding; phases decide.
            auto at = hn::Floor(hn::Add(boundary, hn::Mul(length, least)));
            const auto end = hn::Add(boundary, hn::Mul(length, most));
            for (auto left = own;; at = hn::Add(at, one)) {
                left = hn::And(left, hn::Le(at, end));
                if (hn::AllFalse(d, left)) break;
                const auto place = hn::Min(hn::Max(at, zero), samples); // a gap stands behind the last sample
                const auto v = hn::GatherIndex(d, input.values, hn::ConvertTo(di, hn::IfThenElseZero(left, place)));
                const auto phase = hn::Mul(hn::Sub(at, boundary), slope);
                const auto used =
                    hn::And(hn::And(left, hn::Eq(v, v)),
                            hn::And(hn::And(hn::Ge(phase, least), hn::Lt(phase, most)), hn::Ge(at, zero)));
                const auto value = hn::Sub(v, offset), square = hn::Mul(value, value);
                for (std::size_t k = 0; k < sums.size(); ++k) {
                    const auto its = hn::And(used, hn::Eq(symbol, hn::Set(d, double(k))));
                    double *count = sums[k].count.data() + lane, *sum = sums[k].sum.data() + lane,
                           *squares = sums[k].squares.data() + lane;
                    hn::Store(hn::Add(hn::Load(d, count), hn::IfThenElseZero(its, one)), d, count);
                    hn::Store(hn::Add(hn::Load(d, sum), hn::IfThenElseZero(its, value)), d, sum);
                    hn::Store(hn::Add(hn::Load(d, squares), hn::IfThenElseZero(its, square)), d, squares);
                }
            }
        }
    }
}

/// Eight boundaries side by side, their slopes, and which sample of each is next.
struct BoundaryLanes {
    static constexpr std::size_t eight = LaneSums::lanes;
    alignas(64) double at[eight], before[eight], after[eight]; ///< slopes of the unit intervals before and after
    alignas(64) double next[eight], last[eight];
};

void layLanes(const FoldInput &input, const std::uint32_t *boundaries, double reach, BoundaryLanes &out)
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
        hn::Store(at, d, out.at + lane);
        hn::Store(hn::GatherIndex(d, input.slopes.data() - 1, n), d, out.before + lane);
        hn::Store(hn::GatherIndex(d, input.slopes.data(), n), d, out.after + lane);
        const auto from = hn::Ceil(hn::Sub(at, hn::Mul(reaches, hn::Sub(at, before)))),
                   to = hn::Ceil(hn::Add(at, hn::Mul(reaches, hn::Sub(after, at))));
        hn::Store(hn::Max(least, from), d, out.next + lane);
        hn::Store(hn::Min(most, to), d, out.last + lane);
    }
}

/// Adds samples to the bins of their phases, one after the other.
class BinSums {
public:
    BinSums(double reach, std::span<PhaseBin> bins)
        : m_reach(reach), m_scale(double(bins.size()) / (2 * reach)), m_bins(bins)
    {
    }
    /// Those whose phase is within reach.
    void samples(hn::Vec<Lanes> v, hn::Vec<Lanes> phase, hn::Mask<Lanes> there)
    {
        const Lanes d;
        const hn::Rebind<std::int32_t, Lanes> small;
        const hn::CappedTag<double, 4> four;
        const auto to = hn::Set(d, m_reach), zero = hn::Zero(d);
        const auto used = hn::And(there, hn::And(hn::Ge(phase, hn::Neg(to)), hn::Lt(phase, to)));
        const auto place = hn::Min(hn::Max(hn::Mul(hn::Add(phase, to), hn::Set(d, m_scale)), zero),
                                   hn::Set(d, double(m_bins.size()) - 1));
        hn::StoreU(hn::DemoteTo(small, place), small, m_places);
        hn::StoreInterleaved4(hn::Set(d, 1.0), phase, v, zero, d, m_added);
        for (std::uint64_t bits = bitsOf(used); bits; bits &= bits - 1) {
            const int lane = std::countr_zero(bits);
            double *const bin = &m_bins[std::size_t(m_places[lane])].count;
            for (std::size_t k = 0; k < 4; k += hn::Lanes(four))
                hn::Store(hn::Add(hn::Load(four, bin + k), hn::Load(four, m_added + 4 * lane + k)), four, bin + k);
        }
    }

private:
    double m_reach, m_scale;
    std::span<PhaseBin> m_bins;
    alignas(64) double m_added[4 * LaneSums::lanes]; // one behind the other
    std::int32_t m_places[LaneSums::lanes];
};

void addTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                    std::span<PhaseBin> bins)
{
    const Lanes d;
    const auto lanes = std::int32_t(hn::Lanes(d));
    const auto zero = hn::Zero(d);
    BinSums add(reach, bins);
    const auto addSamples = [&](std::uint32_t n, double first, double last) {
        const auto boundary = hn::Set(d, input.boundaries[n]), slopeBefore = hn::Set(d, input.slopes[n - 1]),
                   slopeAfter = hn::Set(d, input.slopes[n]);
        for (double i = first; i < last; i += lanes) {
            const auto v = hn::LoadU(d, input.values + std::int32_t(i)), distance = hn::Sub(hn::Iota(d, i), boundary);
            const auto slope = hn::IfThenElse(hn::Lt(distance, zero), slopeBefore, slopeAfter);
            const auto phase = hn::Mul(distance, slope);
            add.samples(v, phase, hn::Eq(v, v));
        }
    };
    // By eights: where each begins is not to be waited for.
    constexpr std::size_t eight = LaneSums::lanes;
    BoundaryLanes all;
    std::uint32_t rest[eight];
    for (std::size_t done = 0; done < boundaries.size(); done += eight) {
        const std::size_t some = std::min(eight, boundaries.size() - done);
        const std::uint32_t *n = boundaries.data() + done;
        if (some < eight) {
            std::fill(std::copy_n(n, some, rest), rest + eight, *n);
            n = rest;
        }
        layLanes(input, n, reach, all);
        for (std::size_t k = 0; k < some; ++k) addSamples(n[k], all.next[k], all.last[k]);
    }
}

/// Of boundaries with a few samples each, eight side by side.
void addShortTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                         std::span<PhaseBin> bins)
{
    const Lanes d;
    const hn::Rebind<std::int64_t, Lanes> di;
    const std::size_t lanes = hn::Lanes(d);
    const auto zero = hn::Zero(d);
    BinSums add(reach, bins);
    BoundaryLanes all;
    constexpr std::size_t eight = LaneSums::lanes;
    std::uint32_t rest[eight];
    for (std::size_t done = 0; done < boundaries.size(); done += eight) {
        const std::size_t some = std::min(eight, boundaries.size() - done);
        const std::uint32_t *n = boundaries.data() + done;
        if (some < eight) {
            std::fill(std::copy_n(n, some, rest), rest + eight, *n);
            n = rest;
        }
        layLanes(input, n, reach, all);
        for (std::size_t k = some; k < eight; ++k) all.last[k] = all.next[k];
        // A sample of each, whatever the vectors' width, so that every machine adds in the same order.
        for (bool more = true; more;) {
            more = false;
            for (std::size_t lane = 0; lane < eight; lane += lanes) {
                const auto at = hn::Load(d, all.next + lane);
                const auto left = hn::Lt(at, hn::Load(d, all.last + lane));
                if (hn::AllFalse(d, left)) continue;
                more = true;
                const auto v = hn::GatherIndex(d, input.values, hn::ConvertTo(di, hn::IfThenElseZero(left, at)));
                const auto distance = hn::Sub(at, hn::Load(d, all.at + lane));
                const auto slope = hn::IfThenElse(hn::Lt(distance, zero), hn::Load(d, all.before + lane),
                                                  hn::Load(d, all.after + lane));
                const auto phase = hn::Mul(distance, slope);
                add.samples(v, phase, hn::And(left, hn::Eq(v, v)));
                hn::Store(hn::Add(at, hn::Set(d, 1.0)), d, all.next + lane);
            }
        }
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(decideSymbols);
HWY_EXPORT(foldUnitIntervals);
HWY_EXPORT(shortCells);
HWY_EXPORT(addShortMiddles);
HWY_EXPORT(addShortTransitions);
HWY_EXPORT(addTransitions);

void decideSymbols(const FoldInput &input, std::span<const double> thresholds, std::uint8_t *symbols)
{
    HWY_DYNAMIC_DISPATCH(decideSymbols)(input, thresholds, symbols);
}

void foldUnitIntervals(const FoldInput &input, std::size_t first, std::size_t last, const FoldGrid &grid, double origin,
                       std::int32_t *cells, std::span<LaneSums> sums)
{
    if (!input.isShort()) return HWY_DYNAMIC_DISPATCH(foldUnitIntervals)(input, first, last, grid, origin, cells, sums);
    HWY_DYNAMIC_DISPATCH(shortCells)(input, first, last, grid, cells);
    HWY_DYNAMIC_DISPATCH(addShortMiddles)(input, first, last, origin, sums);
}

void addTransitions(const FoldInput &input, std::span<const std::uint32_t> boundaries, double reach,
                    std::span<PhaseBin> bins)
{
    const auto add = input.isShort() ? HWY_DYNAMIC_DISPATCH(addShortTransitions) : HWY_DYNAMIC_DISPATCH(addTransitions);
    add(input, boundaries, reach, bins);
}

} // namespace fulvex
#endif
