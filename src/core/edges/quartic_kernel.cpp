#include "quartic_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "quartic_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void solveQuartics(CrossingLanes &lanes, const SincKernel::Row *quarters, double level)
{
    const hn::CappedTag<double, CrossingLanes::size> d;
    using V = hn::Vec<decltype(d)>;
    const V mid = hn::Set(d, level), settled = hn::Set(d, CrossingLanes::settled), one = hn::Set(d, 1.0),
            two = hn::Set(d, 2.0), three = hn::Set(d, 3.0);
    for (std::size_t lane = 0; lane < CrossingLanes::size; lane += hn::Lanes(d)) {
        const auto sample = [&](std::size_t tap) { return hn::Load(d, lanes.samples[tap] + lane); };
        V c0 = hn::Sub(sample(SincKernel::before), mid), c4 = hn::Sub(sample(SincKernel::before + 1), mid);
        V c1 = hn::Zero(d), c2 = c1, c3 = c1;
        for (std::size_t tap = 0; tap < SincKernel::taps; ++tap) {
            const V v = sample(tap);
            c1 = hn::Add(c1, hn::Mul(hn::Set(d, quarters[0][tap]), v));
            c2 = hn::Add(c2, hn::Mul(hn::Set(d, quarters[1][tap]), v));
            c3 = hn::Add(c3, hn::Mul(hn::Set(d, quarters[2][tap]), v));
        }
        c1 = hn::Sub(c1, mid);
        c2 = hn::Sub(c2, mid);
        c3 = hn::Sub(c3, mid);
        // Newton's divided differences on the nodes 0, 1, 2, 3, 4.
        const auto divide = [&](V &later, V earlier, double order) {
            later = hn::Mul(hn::Sub(later, earlier), hn::Set(d, 1 / order));
        };
        divide(c4, c3, 1), divide(c3, c2, 1), divide(c2, c1, 1), divide(c1, c0, 1);
        divide(c4, c3, 2), divide(c3, c2, 2), divide(c2, c1, 2);
        divide(c4, c3, 3), divide(c3, c2, 3);
        divide(c4, c3, 4);
        V x = hn::Load(d, lanes.at + lane), step = hn::Zero(d);
        auto going = hn::Eq(step, step);
        for (int round = 0; round < 5 && !hn::AllFalse(d, going); ++round) { // a lane that settled stands still
            const V a = x, b = hn::Sub(a, one), e = hn::Sub(a, two), f = hn::Sub(a, three);
            const V p3 = hn::Add(c3, hn::Mul(f, c4)), p2 = hn::Add(c2, hn::Mul(e, p3)),
                    p1 = hn::Add(c1, hn::Mul(b, p2));
            const V s2 = hn::Add(p3, hn::Mul(e, c4)), s1 = hn::Add(p2, hn::Mul(b, s2)),
                    slope = hn::Add(p1, hn::Mul(a, s1));
            step = hn::IfThenElse(going, hn::Div(hn::Add(c0, hn::Mul(a, p1)), slope), step);
            x = hn::IfThenElse(going, hn::Sub(a, step), x);
            going = hn::And(going, hn::Not(hn::Lt(hn::Abs(step), settled)));
        }
        hn::Store(x, d, lanes.at + lane);
        hn::Store(step, d, lanes.step + lane);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(solveQuartics);

void solveQuartics(CrossingLanes &lanes, const SincKernel::Row *quarters, double level)
{
    HWY_DYNAMIC_DISPATCH(solveQuartics)(lanes, quarters, level);
}

} // namespace fulvex
#endif
