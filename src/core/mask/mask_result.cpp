#include "mask_result.h"

#include <algorithm>
#include <tuple>

namespace fulvex {

namespace {

auto timeKey(const MaskFailure &f)
{
    return std::tuple(f.time, f.unitInterval, f.deepest, f.worstTime, f.area, f.phase, f.value, f.capture);
}
auto depthKey(const MaskFailure &f)
{
    return std::tuple(-f.deepest, f.time, f.unitInterval, f.worstTime, f.area, f.phase, f.value, f.capture);
}

/// The first ones of both lists by a key, which tells any two apart that differ: so the order of mergers is no matter.
template <typename Key>
void keepFirst(std::vector<MaskFailure> &list, const std::vector<MaskFailure> &more, Key key)
{
    list.insert(list.end(), more.begin(), more.end());
    const auto less = [&](const MaskFailure &a, const MaskFailure &b) { return key(a) < key(b); };
    const auto end = list.begin() + std::ptrdiff_t(std::min(list.size(), MaskResult::keptFailures));
    std::partial_sort(list.begin(), end, list.end(), less);
    list.erase(end, list.end());
}

} // namespace

void FailureSpread::add(std::int64_t unitInterval, std::int64_t failures)
{
    while (std::size_t(unitInterval >> shift) >= most) {
        for (std::size_t i = 0; 2 * i < counts.size(); ++i)
            counts[i] = counts[2 * i] + (2 * i + 1 < counts.size() ? counts[2 * i + 1] : 0);
        counts.resize((counts.size() + 1) / 2);
        ++shift;
    }
    const auto at = std::size_t(unitInterval >> shift);
    if (at >= counts.size()) counts.resize(at + 1);
    counts[at] += failures;
}

void FailureSpread::merge(const FailureSpread &later)
{
    for (std::size_t i = 0; i < later.counts.size(); ++i) {
        if (later.counts[i]) add(std::int64_t(i) << later.shift, later.counts[i]);
    }
}

void MaskResult::merge(const MaskResult &later)
{
    unitIntervals += later.unitIntervals;
    hits += later.hits;
    failedUnitIntervals += later.failedUnitIntervals;
    areaHits.resize(std::max(areaHits.size(), later.areaHits.size()));
    for (std::size_t i = 0; i < later.areaHits.size(); ++i) areaHits[i] += later.areaHits[i];
    if (later.margin) margin = std::min(margin.value_or(1), *later.margin);
    keepFirst(failures, later.failures, timeKey);
    keepFirst(worst, later.worst, depthKey);
    spread.merge(later.spread);
    stopped |= later.stopped;
}

void MaskResult::sum()
{
    failedUnitIntervals = std::int64_t(failures.size());
    for (const MaskFailure &failure : failures) spread.add(failure.unitInterval);
    keepFirst(worst, failures, depthKey);
    keepFirst(failures, {}, timeKey);
}

} // namespace fulvex
