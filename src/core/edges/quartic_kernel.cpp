#include "quartic_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "quartic_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
// clang-format off
#include "turn_square-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, CrossingLanes::size>;

constexpr std::size_t each = hn::MaxLanes(Lanes());

/// Newton's divided differences, on the nodes 0, 1, 2, 3, 4.
struct Quartics {
    hn::Vec<Lanes> c0, c1, c2, c3, c4;
};

HWY_INLINE Quartics quarticsThrough(const CrossingLanes &lanes, std::size_t lane, const SincKernel::Row *quarters,
                                    double level)
{
    const Lanes d;
    using V = hn::Vec<Lanes>;
    static_assert(SincKernel::taps % each == 0);
    V samples[SincKernel::taps]; // by taps
    for (std::size_t tap = 0; tap < SincKernel::taps; tap += each) {
        V rows[each];
        for (std::size_t i = 0; i < each; ++i) rows[i] = hn::LoadU(d, lanes.samples[lane + i] + tap);
        turnSquare(d, rows);
        for (std::size_t i = 0; i < each; ++i) samples[tap + i] = rows[i];
    }
    // A quarter and three quarters are each other's mirror image: of both the mean takes what samples that lie alike
    // add up to, and half their difference what these differ by.
    V mean = hn::Zero(d), half = mean, c2 = mean;
    for (std::size_t tap = 0; tap < SincKernel::taps / 2; ++tap) {
        const std::size_t mirrored = SincKernel::taps - 1 - tap;
        const V here = samples[tap], there = samples[mirrored], sum = hn::Add(here, there), off = hn::Sub(here, there);
        const double a = quarters[0][tap], b = quarters[0][mirrored];
        mean = hn::Add(mean, hn::Mul(hn::Set(d, (a + b) / 2), sum));
        half = hn::Add(half, hn::Mul(hn::Set(d, (a - b) / 2), off));
        c2 = hn::Add(c2, hn::Mul(hn::Set(d, quarters[1][tap]), sum));
    }
    const V mid = hn::Set(d, level), c0 = hn::Sub(samples[SincKernel::before], mid);
    mean = hn::Sub(mean, mid);
    c2 = hn::Sub(c2, mid);
    V c1 = hn::Add(mean, half), c3 = hn::Sub(mean, half), c4 = hn::Sub(samples[SincKernel::before + 1], mid);
    const auto divide = [&](V &later, V earlier, double order) {
        later = hn::Mul(hn::Sub(later, earlier), hn::Set(d, 1 / order));
    };
    divide(c4, c3, 1), divide(c3, c2, 1), divide(c2, c1, 1), divide(c1, c0, 1);
    divide(c4, c3, 2), divide(c3, c2, 2), divide(c2, c1, 2);
    divide(c4, c3, 3), divide(c3, c2, 3);
    divide(c4, c3, 4);
    return {c0, c1, c2, c3, c4};
}

void solveQuartics(CrossingLanes &lanes, const SincKernel::Row *quarters, double level)
{
    const Lanes d;
    using V = hn::Vec<Lanes>;
    constexpr std::size_t parts = CrossingLanes::size / each;
    const V settled = hn::Set(d, CrossingLanes::settled), one = hn::Set(d, 1.0), two = hn::Set(d, 2.0),
            three = hn::Set(d, 3.0);
    Quartics quartics[parts];
    V x[parts], step[parts];
    hn::Mask<Lanes> going[parts];
    for (std::size_t part = 0; part < parts; ++part) {
        quartics[part] = quarticsThrough(lanes, part * each, quarters, level);
        x[part] = hn::Load(d, lanes.at + part * each);
        step[part] = hn::Zero(d);
        going[part] = hn::Eq(step[part], step[part]);
    }
    bool all = false;                                 // have settled
    for (int round = 0; round < 5 && !all; ++round) { // a lane that settled stands still
        all = true;
        for (std::size_t part = 0; part < parts; ++part) { // by turns: a round waits for its own division
            const Quartics &q = quartics[part];
            const V a = x[part], b = hn::Sub(a, one), e = hn::Sub(a, two), f = hn::Sub(a, three);
            const V p3 = hn::Add(q.c3, hn::Mul(f, q.c4)), p2 = hn::Add(q.c2, hn::Mul(e, p3)),
                    p1 = hn::Add(q.c1, hn::Mul(b, p2));
            const V s2 = hn::Add(p3, hn::Mul(e, q.c4)), s1 = hn::Add(p2, hn::Mul(b, s2)),
                    slope = hn::Add(p1, hn::Mul(a, s1));
            step[part] = hn::IfThenElse(going[part], hn::Div(hn::Add(q.c0, hn::Mul(a, p1)), slope), step[part]);
            x[part] = hn::IfThenElse(going[part], hn::Sub(a, step[part]), a);
            going[part] = hn::And(going[part], hn::Not(hn::Lt(hn::Abs(step[part]), settled)));
            all &= hn::AllFalse(d, going[part]);
        }
    }
    for (std::size_t part = 0; part < parts; ++part) {
        hn::Store(x[part], d, lanes.at + part * each);
        hn::Store(step[part], d, lanes.step + part * each);
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
