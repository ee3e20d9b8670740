#include "sinc_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "sinc_interleave.cpp"
#include <algorithm>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, 8>;
constexpr std::size_t strip = 16; ///< samples filtered at a time, for three rows: what the registers hold

/// Sums for three rows at two vectors' places, `places` apart in `out`; the taps by fours, as SincKernel::filter.
void filterThree(const double *samples, const SincKernel::Row *const rows[3], double *out, std::size_t places)
{
    const Lanes d;
    const std::size_t lanes = hn::Lanes(d);
    auto a0 = hn::Zero(d), a1 = a0, b0 = a0, b1 = a0, c0 = a0, c1 = a0;
    for (std::size_t tap = 0; tap < SincKernel::taps; tap += 4) {
        const double *from = samples + tap, *then = from + lanes;
        const auto x0 = hn::LoadU(d, from), x1 = hn::LoadU(d, from + 1), x2 = hn::LoadU(d, from + 2),
                   x3 = hn::LoadU(d, from + 3);
        const auto y0 = hn::LoadU(d, then), y1 = hn::LoadU(d, then + 1), y2 = hn::LoadU(d, then + 2),
                   y3 = hn::LoadU(d, then + 3);
        const auto add = [&](const SincKernel::Row &row, auto &first, auto &second) {
            const auto w0 = hn::Set(d, row[tap]), w1 = hn::Set(d, row[tap + 1]), w2 = hn::Set(d, row[tap + 2]),
                       w3 = hn::Set(d, row[tap + 3]);
            const auto four = [&](auto p, auto q, auto r, auto s) {
                return hn::Add(hn::Add(hn::Add(hn::Mul(w0, p), hn::Mul(w1, q)), hn::Mul(w2, r)), hn::Mul(w3, s));
            };
            first = hn::Add(first, four(x0, x1, x2, x3));
            second = hn::Add(second, four(y0, y1, y2, y3));
        };
        add(*rows[0], a0, a1);
        add(*rows[1], b0, b1);
        add(*rows[2], c0, c1);
    }
    hn::StoreU(a0, d, out);
    hn::StoreU(a1, d, out + lanes);
    hn::StoreU(b0, d, out + places);
    hn::StoreU(b1, d, out + places + lanes);
    hn::StoreU(c0, d, out + 2 * places);
    hn::StoreU(c1, d, out + 2 * places + lanes);
}

void interleave(const double *samples, std::span<const SincKernel::Row> between, double *out, std::size_t count)
{
    static_assert(SincKernel::taps % 4 == 0);
    const Lanes d;
    const std::size_t lanes = hn::Lanes(d), step = 2 * lanes, factor = between.size() + 1;
    alignas(64) double planes[3 * strip];
    double rest[SincKernel::taps + strip] = {};
    for (std::size_t done = 0; done < count; done += step) {
        const std::size_t some = std::min(step, count - done);
        const double *from = samples + done;
        if (some < step) { // nothing is read behind the end
            std::copy_n(from, some + SincKernel::taps - 1, rest);
            from = rest;
        }
        double *to = out + done * factor;
        const auto put = [&](const double *values, std::size_t place) {
            if (some == step) // a number that the compiler knows
                for (std::size_t i = 0; i < step; ++i) to[i * factor + place] = values[i];
            else
                for (std::size_t i = 0; i < some; ++i) to[i * factor + place] = values[i];
        };
        const double *own = from + SincKernel::before;
        for (std::size_t first = 0; first < between.size(); first += 3) {
            const std::size_t last = between.size() - 1;
            const SincKernel::Row *const rows[3] = {&between[first], &between[std::min(first + 1, last)],
                                                    &between[std::min(first + 2, last)]};
            filterThree(from, rows, planes, strip);
            if (factor == 4 && some == step) {
                for (std::size_t i = 0; i < step; i += lanes)
                    hn::StoreInterleaved4(hn::LoadU(d, own + i), hn::Load(d, planes + i),
                                          hn::Load(d, planes + strip + i), hn::Load(d, planes + 2 * strip + i), d,
                                          to + 4 * i);
                continue;
            }
            if (first == 0) put(own, 0);
            for (std::size_t row = first; row < std::min(first + 3, between.size()); ++row)
                put(planes + (row - first) * strip, row + 1);
        }
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(interleave);

void SincKernel::interleave(const double *samples, std::span<const Row> between, double *out, std::size_t count)
{
    HWY_DYNAMIC_DISPATCH(interleave)(samples, between, out, count);
}

} // namespace fulvex
#endif
