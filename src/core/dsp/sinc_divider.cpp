#include "sinc_divider.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "sinc_divider.cpp"
#include <algorithm>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Lanes = hn::CappedTag<double, 8>;
constexpr std::size_t strip = 16; ///< samples at a time, two vectors at most

/// Two vectors of a pair of instants, and of the middle if asked for, from the samples that their kernels begin with.
struct Planes {
    alignas(64) double earlier[strip], later[strip], middle[strip];
};

template <bool withMiddle>
void interpolate(const double *samples, const SincDivider::Pair &pair, const SincDivider::Pair &middle, Planes &out)
{
    const Lanes d;
    const std::size_t lanes = hn::Lanes(d);
    auto even0 = hn::Zero(d), even1 = even0, odd0 = even0, odd1 = even0, middle0 = even0, middle1 = even0;
    for (std::size_t tap = 0; tap < SincKernel::taps / 2; ++tap) {
        const double *from = samples + tap, *mirrored = samples + SincKernel::taps - 1 - tap;
        const auto a0 = hn::LoadU(d, from), b0 = hn::LoadU(d, mirrored);
        const auto a1 = hn::LoadU(d, from + lanes), b1 = hn::LoadU(d, mirrored + lanes);
        const auto sum0 = hn::Add(a0, b0), sum1 = hn::Add(a1, b1);
        const auto even = hn::Set(d, pair.even[tap]), odd = hn::Set(d, pair.odd[tap]);
        even0 = hn::Add(even0, hn::Mul(even, sum0));
        even1 = hn::Add(even1, hn::Mul(even, sum1));
        odd0 = hn::Add(odd0, hn::Mul(odd, hn::Sub(a0, b0)));
        odd1 = hn::Add(odd1, hn::Mul(odd, hn::Sub(a1, b1)));
        if constexpr (withMiddle) {
            const auto weight = hn::Set(d, middle.even[tap]);
            middle0 = hn::Add(middle0, hn::Mul(weight, sum0));
            middle1 = hn::Add(middle1, hn::Mul(weight, sum1));
        }
    }
    hn::Store(hn::Add(even0, odd0), d, out.earlier);
    hn::StoreU(hn::Add(even1, odd1), d, out.earlier + lanes);
    hn::Store(hn::Sub(even0, odd0), d, out.later);
    hn::StoreU(hn::Sub(even1, odd1), d, out.later + lanes);
    hn::Store(middle0, d, out.middle);
    hn::StoreU(middle1, d, out.middle + lanes);
}

/// The values of as many samples' intervals as two vectors have lanes.
void divideStrip(const double *samples, std::span<const SincDivider::Pair> pairs, std::size_t factor, double *out)
{
    const Lanes d;
    const std::size_t lanes = hn::Lanes(d), step = 2 * lanes;
    const double *own = samples + SincKernel::before;
    const bool hasMiddle = factor % 2 == 0;
    const std::size_t twos = pairs.size() - (hasMiddle ? 1 : 0);
    Planes planes;
    if (factor == 4) {
        interpolate<true>(samples, pairs[0], pairs[1], planes);
        for (std::size_t i = 0; i < step; i += lanes)
            hn::StoreInterleaved4(hn::LoadU(d, own + i), hn::Load(d, planes.earlier + i),
                                  hn::Load(d, planes.middle + i), hn::Load(d, planes.later + i), d, out + 4 * i);
        return;
    }
    const auto put = [&](const double *values, std::size_t instant) {
        for (std::size_t i = 0; i < step; ++i) out[i * factor + instant] = values[i];
    };
    put(own, 0);
    if (hasMiddle) { // with the first pair, or alone
        interpolate<true>(samples, pairs.front(), pairs.back(), planes);
        put(planes.middle, factor / 2);
    }
    for (std::size_t i = 0; i < twos; ++i) {
        if (i > 0 || !hasMiddle) interpolate<false>(samples, pairs[i], pairs[i], planes);
        put(planes.earlier, pairs[i].earlier);
        put(planes.later, pairs[i].later);
    }
}

void divide(const double *samples, std::span<const SincDivider::Pair> pairs, std::size_t factor, std::size_t first,
            std::span<double> out)
{
    const std::size_t step = 2 * hn::Lanes(Lanes()), last = first + out.size();
    const std::size_t count = (last + factor - 1) / factor; // samples in whose intervals there is something to give
    std::vector<double> edge;                               // strips of which not all is wanted
    for (std::size_t done = first / factor; done < count; done += step) {
        const std::size_t from = done * factor, to = from + step * factor;
        if (from >= first && to <= last) {
            divideStrip(samples + done, pairs, factor, out.data() + (from - first));
            continue;
        }
        double some[SincKernel::taps + strip] = {};
        const std::size_t there = std::min(step, count - done) + SincKernel::taps - 1; // nothing is read behind the end
        std::copy_n(samples + done, there, some);
        edge.resize(step * factor);
        divideStrip(some, pairs, factor, edge.data());
        const std::size_t begin = std::max(from, first), end = std::min(to, last);
        std::copy_n(edge.data() + (begin - from), end - begin, out.data() + (begin - first));
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(divide);

SincDivider::SincDivider(int factor) : m_factor(factor)
{
    for (int instant = 1; 2 * instant <= factor; ++instant) {
        const SincKernel::Row row = SincKernel::row(double(instant) / factor);
        Pair pair{std::size_t(instant), std::size_t(factor - instant), {}, {}};
        for (std::size_t tap = 0; tap < SincKernel::taps / 2; ++tap) {
            const double mirrored = row[SincKernel::taps - 1 - tap];
            pair.even[tap] = (row[tap] + mirrored) / 2;
            pair.odd[tap] = 2 * instant == factor ? 0 : (row[tap] - mirrored) / 2;
        }
        m_pairs.push_back(pair);
    }
}

void SincDivider::read(const double *samples, std::size_t first, std::span<double> out) const
{
    if (m_factor == 1)
        std::copy_n(samples + SincKernel::before + first, out.size(), out.data());
    else
        HWY_DYNAMIC_DISPATCH(divide)(samples, m_pairs, std::size_t(m_factor), first, out);
}

} // namespace fulvex
#endif
