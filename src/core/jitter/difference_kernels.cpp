#include "difference_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "difference_kernels.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

/// Whole vectors of the first places, how many of them were taken is `end`.
template <std::size_t count>
DifferenceSums sumsOf(const WeighedValues *of, std::size_t size, double about, std::size_t &end)
{
    const hn::ScalableTag<double> d;
    const auto none = hn::Zero(d), one = hn::Set(d, 1), lowest = hn::Set(d, -INFINITY), highest = hn::Set(d, INFINITY);
    decltype(hn::Zero(d)) weights[count];
    for (std::size_t k = 0; k < count; ++k) weights[k] = hn::Set(d, of[k].weight);
    auto counted = none, sum = none, squares = none, least = highest, most = lowest;
    for (end = 0; end + hn::Lanes(d) <= size; end += hn::Lanes(d)) {
        auto value = hn::Set(d, -about);
        for (std::size_t k = 0; k < count; ++k) value = hn::MulAdd(hn::LoadU(d, of[k].values + end), weights[k], value);
        const auto there = hn::Eq(value, value);
        const auto kept = hn::IfThenElseZero(there, value);
        counted = hn::Add(counted, hn::IfThenElseZero(there, one));
        sum = hn::Add(sum, kept);
        squares = hn::MulAdd(kept, kept, squares);
        least = hn::Min(least, hn::IfThenElse(there, value, highest));
        most = hn::Max(most, hn::IfThenElse(there, value, lowest));
    }
    const auto all = [&](auto values) { return hn::GetLane(hn::SumOfLanes(d, values)); };
    return {all(counted), all(sum), all(squares), hn::GetLane(hn::MinOfLanes(d, least)),
            hn::GetLane(hn::MaxOfLanes(d, most))};
}

DifferenceSums sumsOfWhole(const WeighedValues *of, std::size_t count, std::size_t size, double about, std::size_t &end)
{
    return count == 2   ? sumsOf<2>(of, size, about, end)
           : count == 3 ? sumsOf<3>(of, size, about, end)
                        : sumsOf<4>(of, size, about, end);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

#include <algorithm>
#include <cassert>

namespace fulvex {

HWY_EXPORT(sumsOfWhole);

namespace {

void addFrom(std::size_t first, std::span<const WeighedValues> of, std::size_t size, double about, DifferenceSums &to)
{
    for (std::size_t i = first; i < size; ++i) {
        double value = -about;
        for (const WeighedValues &one : of) value += one.weight * one.values[i];
        if (std::isnan(value)) continue;
        ++to.count;
        to.sum += value;
        to.squares += value * value;
        to.least = std::min(to.least, value);
        to.most = std::max(to.most, value);
    }
}

} // namespace

void DifferenceSums::merge(const DifferenceSums &others)
{
    count += others.count;
    sum += others.sum;
    squares += others.squares;
    least = std::min(least, others.least);
    most = std::max(most, others.most);
}

DifferenceSums sumsOfDifferences(std::span<const WeighedValues> of, std::size_t size, double about)
{
    assert(of.size() >= 2 && of.size() <= 4);
    std::size_t end = 0;
    DifferenceSums sums = HWY_DYNAMIC_DISPATCH(sumsOfWhole)(of.data(), of.size(), size, about, end);
    addFrom(end, of, size, about, sums);
    return sums;
}

DifferenceSums plainSumsOfDifferences(std::span<const WeighedValues> of, std::size_t size, double about)
{
    DifferenceSums sums;
    addFrom(0, of, size, about, sums);
    return sums;
}

} // namespace fulvex
#endif
