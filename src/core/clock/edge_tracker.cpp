#include "edge_tracker.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "edge_tracker.cpp"
#include <algorithm>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, trackersTogether>;

/// Some trackers' states.
struct TrackerLanes {
    hn::Vec<Lanes> clock, tracked, inverse, number;
};

void followTogether(std::array<EdgeTracker, trackersTogether> &all, const double *positions,
                    const std::array<std::int64_t, trackersTogether> &places, std::int64_t count, std::int32_t *numbers)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> small;
    constexpr std::size_t lanes = hn::MaxLanes(Lanes()), parts = trackersTogether / lanes;
    alignas(64) std::array<double, trackersTogether> some;
    alignas(64) std::array<std::int32_t, trackersTogether> whole;
    const auto laid = [&](std::size_t part, auto &&of) {
        for (std::size_t k = 0; k < lanes; ++k) some[k] = of(part * lanes + k);
        return hn::Load(d, some.data());
    };
    TrackerLanes own[parts];
    for (std::size_t part = 0; part < parts; ++part)
        own[part] = {laid(part, [&](std::size_t k) { return all[k].clock; }),
                     laid(part, [&](std::size_t k) { return all[k].tracked; }),
                     laid(part, [&](std::size_t k) { return all[k].inverse; }),
                     laid(part, [&](std::size_t k) { return double(all[k].number); })};
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.0), half = hn::Set(d, 0.5),
               least = hn::Set(d, 0.98 * all[0].period), most = hn::Set(d, 1.02 * all[0].period),
               hundredth = hn::Set(d, 0.01), phaseGain = hn::Set(d, EdgeTracker::phaseGain),
               periodGain = hn::Set(d, EdgeTracker::periodGain);
    const auto within = [](auto v, auto low, auto high) { return hn::Min(hn::Max(v, low), high); };
    // Positions are laid side by side some at a time: a gather of them takes half as long as all else.
    constexpr std::int64_t laidAtOnce = 32;
    alignas(64) std::array<double, laidAtOnce * trackersTogether> near;
    const auto layFrom = [&](std::int64_t i) {
        const auto steps = std::size_t(std::min(laidAtOnce, count - i));
        for (std::size_t k = 0; k < trackersTogether; ++k) {
            const double *const from = positions + places[k] + i;
            for (std::size_t step = 0; step < steps; ++step) near[step * trackersTogether + k] = from[step];
        }
    };
    for (std::int64_t i = 0; i < count; ++i) {
        if (i % laidAtOnce == 0) layFrom(i);
        for (std::size_t part = 0; part < parts; ++part) {
            TrackerLanes &t = own[part];
            const auto position =
                hn::Load(d, near.data() + std::size_t(i % laidAtOnce) * trackersTogether + part * lanes);
            const auto distance = hn::Mul(hn::Sub(position, t.clock), t.inverse);
            const auto steps = hn::Floor(hn::Max(hn::Add(distance, half), zero));
            t.number = hn::Add(t.number, steps);
            const auto gain = hn::Div(periodGain, hn::Max(steps, one)); // while the error is computed
            const auto error = within(hn::Sub(distance, steps), hn::Neg(half), half);
            const auto change = within(hn::Mul(gain, error), hn::Neg(hundredth), hundredth);
            const auto tracked = within(hn::Mul(t.tracked, hn::Add(one, change)), least, most);
            const auto inverse = i % 64 == 0 ? hn::Div(one, tracked)
                                             : hn::Mul(t.inverse, hn::Sub(one, hn::Mul(change, hn::Sub(one, change))));
            const auto moves = hn::Gt(steps, zero); // of two edges in a unit interval the first counts
            const auto clock = hn::Add(t.clock, hn::Mul(hn::Add(steps, hn::Mul(phaseGain, error)), t.tracked));
            t.clock = hn::IfThenElse(moves, clock, t.clock);
            t.tracked = hn::IfThenElse(moves, tracked, t.tracked);
            t.inverse = hn::IfThenElse(moves, inverse, t.inverse);
            if (!numbers) continue;
            hn::Store(hn::DemoteTo(small, t.number), small, whole.data());
            for (std::size_t k = 0; k < lanes; ++k) numbers[places[part * lanes + k] + i] = whole[k];
        }
    }
    for (std::size_t part = 0; part < parts; ++part) {
        const auto store = [&](auto of, auto EdgeTracker::*field) {
            hn::Store(of, d, some.data());
            for (std::size_t k = 0; k < lanes; ++k)
                all[part * lanes + k].*field = std::remove_reference_t<decltype(all[0].*field)>(some[k]);
        };
        store(own[part].clock, &EdgeTracker::clock);
        store(own[part].tracked, &EdgeTracker::tracked);
        store(own[part].inverse, &EdgeTracker::inverse);
        store(own[part].number, &EdgeTracker::number);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(followTogether);

void followTogether(std::array<EdgeTracker, trackersTogether> &all, const double *positions,
                    const std::array<std::int64_t, trackersTogether> &places, std::int64_t count, std::int32_t *numbers)
{
    HWY_DYNAMIC_DISPATCH(followTogether)(all, positions, places, count, numbers);
}

} // namespace fulvex
#endif
