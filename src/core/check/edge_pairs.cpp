#include "edge_pairs.h"

#include "middle.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

EdgePairs pairEdges(const EdgeList &first, const TimeAxis &firstAxis, const EdgeList &second,
                    const TimeAxis &secondAxis, const PairRule &rule)
{
    std::vector<double> lags;
    std::size_t j = 0;
    const auto timeOf = [&](std::size_t k) { // since the first record's start
        return secondAxis.positionOn(firstAxis, second.positions[k]) * firstAxis.interval;
    };
    for (std::size_t i = 0; i < first.size(); ++i) {
        const double time = first.positions[i] * firstAxis.interval, wanted = time + rule.lag;
        while (j < second.size() && timeOf(j) < wanted - rule.within) ++j;
        for (std::size_t k = j; k < second.size() && timeOf(k) < wanted + rule.within; ++k) {
            if ((first.isRising(i) != second.isRising(k)) != rule.opposite) continue;
            lags.push_back(timeOf(k) - time);
            break;
        }
    }
    EdgePairs pairs;
    pairs.count = lags.size();
    if (lags.empty()) return pairs;
    pairs.lag = middleOf(lags);
    std::vector<double> off;
    for (const double lag : lags) off.push_back(std::abs(lag - pairs.lag));
    // The median's standard error for a normal scatter: sqrt(pi / 2) sigma / sqrt(n), sigma 1.4826 median deviations.
    pairs.uncertainty = 1.2533 * 1.4826 * middleOf(off) / std::sqrt(double(pairs.count));
    return pairs;
}

double medianInterval(const EdgeList &edges)
{
    std::vector<double> intervals;
    for (std::size_t i = 1; i < edges.size(); ++i) intervals.push_back(edges.positions[i] - edges.positions[i - 1]);
    return intervals.empty() ? 0 : middleOf(intervals);
}

} // namespace fulvex
