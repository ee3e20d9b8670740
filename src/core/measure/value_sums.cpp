#include "value_sums.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "value_sums.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr std::size_t together = 8; ///< places

/// Of the first places, as many times so many as there are whole; `end`: how many places that is.
template <std::size_t terms>
ValueSums sumsOfTerms(const WeighedValues *of, std::size_t size, double about, std::size_t &end)
{
    const hn::CappedTag<double, together> d;
    constexpr std::size_t lanes = hn::MaxLanes(d), vectors = together / lanes;
    const auto none = hn::Zero(d), one = hn::Set(d, 1), lowest = hn::Set(d, -INFINITY), highest = hn::Set(d, INFINITY),
               reference = hn::Set(d, about);
    using Vector = decltype(hn::Zero(d));
    Vector weights[terms];
    for (std::size_t k = 0; k < terms; ++k) weights[k] = hn::Set(d, of[k].weight);
    struct {
        Vector counted, sum, squares, least, most;
    } of8[vectors];
    for (auto &some : of8) some = {none, none, none, highest, lowest};
    for (end = 0; end + together <= size; end += together) {
        for (std::size_t v = 0; v < vectors; ++v) {
            auto &some = of8[v];
            auto value = none;
            for (std::size_t k = 0; k < terms; ++k) // two roundings, as machines without a fused one have them
                value = hn::Add(value, hn::Mul(hn::LoadU(d, of[k].values + end + v * lanes), weights[k]));
            const auto there = hn::Eq(value, value);
            const auto kept = hn::IfThenElseZero(there, hn::Sub(value, reference));
            some.counted = hn::Add(some.counted, hn::IfThenElseZero(there, one));
            some.sum = hn::Add(some.sum, kept);
            some.squares = hn::Add(some.squares, hn::Mul(kept, kept));
            some.least = hn::Min(some.least, hn::IfThenElse(there, value, highest));
            some.most = hn::Max(some.most, hn::IfThenElse(there, value, lowest));
        }
    }
    ValueSums all;
    double lane[together];
    const auto store = [&](auto member) {
        for (std::size_t v = 0; v < vectors; ++v) hn::StoreU(of8[v].*member, d, lane + v * lanes);
    };
    const auto added = [&](auto member) {
        store(member);
        return ((lane[0] + lane[1]) + (lane[2] + lane[3])) + ((lane[4] + lane[5]) + (lane[6] + lane[7]));
    };
    using Of8 = std::remove_reference_t<decltype(of8[0])>;
    all.count = added(&Of8::counted);
    all.sum = added(&Of8::sum);
    all.squares = added(&Of8::squares);
    store(&Of8::least);
    for (const double value : lane) all.least = value < all.least ? value : all.least;
    store(&Of8::most);
    for (const double value : lane) all.most = value > all.most ? value : all.most;
    return all;
}

ValueSums sumsOfWhole(const WeighedValues *of, std::size_t terms, std::size_t size, double about, std::size_t &end)
{
    return terms == 1   ? sumsOfTerms<1>(of, size, about, end)
           : terms == 2 ? sumsOfTerms<2>(of, size, about, end)
           : terms == 3 ? sumsOfTerms<3>(of, size, about, end)
                        : sumsOfTerms<4>(of, size, about, end);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

#include <algorithm>
#include <cassert>

namespace fulvex {

HWY_EXPORT(sumsOfWhole);

namespace {

void addFrom(std::size_t first, std::span<const WeighedValues> of, std::size_t size, double about, ValueSums &to)
{
    for (std::size_t i = first; i < size; ++i) {
        double value = 0;
        for (const WeighedValues &one : of) value += one.weight * one.values[i];
        if (std::isnan(value)) continue;
        ++to.count;
        to.sum += value - about;
        to.squares += (value - about) * (value - about);
        to.least = std::min(to.least, value);
        to.most = std::max(to.most, value);
    }
}

} // namespace

void ValueSums::merge(const ValueSums &others)
{
    count += others.count;
    sum += others.sum;
    squares += others.squares;
    least = std::min(least, others.least);
    most = std::max(most, others.most);
}

ValueSums sumsOf(std::span<const WeighedValues> of, std::size_t size, double about)
{
    assert(of.size() >= 1 && of.size() <= 4);
    std::size_t end = 0;
    ValueSums sums = HWY_DYNAMIC_DISPATCH(sumsOfWhole)(of.data(), of.size(), size, about, end);
    addFrom(end, of, size, about, sums);
    return sums;
}

ValueSums plainSumsOf(std::span<const WeighedValues> of, std::size_t size, double about)
{
    ValueSums sums;
    addFrom(0, of, size, about, sums);
    return sums;
}

} // namespace fulvex
#endif
