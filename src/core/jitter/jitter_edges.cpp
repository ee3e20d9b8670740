#include "jitter_edges.h"

#include <algorithm>

namespace fulvex {

JitterEdges JitterEdges::between(std::size_t firstEdge, std::size_t lastEdge) const
{
    JitterEdges some;
    some.unitInterval = unitInterval;
    some.levels = levels;
    if (firstEdge >= lastEdge) return some;
    const std::int32_t from = places[firstEdge], to = places[lastEdge - 1] + 1;
    const auto take = [](const auto &of, std::size_t begin, std::size_t end, auto &into) {
        into.assign(of.begin() + std::ptrdiff_t(begin), of.begin() + std::ptrdiff_t(std::min(end, of.size())));
    };
    some.first = first + from;
    take(places, firstEdge, lastEdge, some.places);
    for (std::int32_t &place : some.places) place -= from;
    take(errors, firstEdge, lastEdge, some.errors);
    take(steps, firstEdge, lastEdge, some.steps);
    take(symbols, std::size_t(from), std::size_t(to), some.symbols);
    take(edges, firstEdge, lastEdge, some.edges);
    return some;
}

bool isClockLike(const JitterEdges &edges)
{
    constexpr double nearlyAll = 0.98;
    return edges.levels == 2 && double(edges.size()) > nearlyAll * double(edges.unitIntervals());
}

JitterEdges jitterEdges(const Clock &clock, std::size_t levels, std::pair<double, double> positions,
                        std::optional<std::size_t> opening, Progress &progress)
{
    const EdgeList &edges = clock.edges.edges();
    JitterEdges found;
    found.levels = levels;
    found.unitInterval = clock.map.period() * clock.map.axis().interval;
    const auto &at = edges.positions;
    std::size_t begin = std::size_t(std::lower_bound(at.begin(), at.end(), positions.first) - at.begin());
    const auto end = std::size_t(std::upper_bound(at.begin(), at.end(), positions.second) - at.begin());
    while (begin < end && clock.edges.numberOf(begin) < clock.map.firstSettled()) ++begin;
    if (begin >= end) return found;

    found.first = clock.edges.numberOf(begin);
    const std::int64_t behind = clock.edges.numberOf(end - 1);
    found.symbols.assign(std::size_t(std::max<std::int64_t>(0, behind - found.first)), noSymbol);
    constexpr std::size_t block = 4096;
    std::vector<double> late(block);
    std::int64_t before = found.first - 1;
    for (std::size_t start = begin; start < end; start += block) {
        progress.advance(0);
        const std::size_t some = std::min(block, end - start);
        clock.edges.lateness(clock.map, start, std::span(late).first(some));
        for (std::size_t i = 0; i < some; ++i) {
            const std::size_t edge = start + i;
            const std::int64_t number = clock.edges.numberOf(edge);
            if (edge > begin && number > before && !edges.isAfterGap(edge))
                std::fill(found.symbols.begin() + std::max<std::int64_t>(0, before - found.first),
                          found.symbols.begin() + (number - found.first), std::uint8_t(edges.symbolBefore(edge)));
            const bool its = number > before;
            if (!its) ++found.shared;
            before = std::max(before, number);
            const std::size_t from = edges.symbolBefore(edge), to = edges.symbolBehind(edge);
            if (!its || (opening && !(std::min(from, to) <= *opening && *opening < std::max(from, to)))) continue;
            found.places.push_back(std::int32_t(number - found.first));
            found.errors.push_back(late[i] * found.unitInterval);
            found.steps.push_back(std::uint8_t(16 * from + to));
            found.edges.push_back(std::uint32_t(edge));
        }
    }
    return found;
}

} // namespace fulvex
