#include "pattern_sums.h"

#include "parallel.h"

#include <algorithm>

namespace fulvex {

namespace {

/// Where a cyclic sequence begins so that what is read from there comes first by alphabet.
/// Source: least rotation by two pointers, Y. Shiloach, J. Algorithms 2 (1981).
std::size_t leastRotation(const std::vector<std::uint8_t> &symbols)
{
    const std::size_t n = symbols.size();
    std::size_t one = 0, other = 1, alike = 0;
    while (one < n && other < n && alike < n) {
        const std::uint8_t a = symbols[(one + alike) % n], b = symbols[(other + alike) % n];
        if (a == b) {
            ++alike;
            continue;
        }
        (a > b ? one : other) += alike + 1;
        if (one == other) ++other;
        alike = 0;
    }
    return std::min(one, other);
}

} // namespace

std::vector<std::uint8_t> PatternSums::usual() const
{
    std::vector<std::uint8_t> found(std::size_t(pattern), 0);
    for (std::size_t place = 0; place < found.size(); ++place) {
        const auto counts = symbols.begin() + std::ptrdiff_t(place * levels);
        found[place] = std::uint8_t(std::max_element(counts, counts + std::ptrdiff_t(levels)) - counts);
    }
    return found;
}

void PatternSums::align()
{
    if (pattern == 0) return;
    const std::size_t first = leastRotation(usual());
    std::rotate(places.begin(), places.begin() + std::ptrdiff_t(first * steps()), places.end());
    std::rotate(symbols.begin(), symbols.begin() + std::ptrdiff_t(first * levels), symbols.end());
}

bool PatternSums::merge(const PatternSums &later)
{
    if (later.pattern != pattern || later.levels != levels || later.usual() != usual()) return false;
    for (std::size_t i = 0; i < places.size(); ++i) {
        places[i].count += later.places[i].count;
        places[i].sum += later.places[i].sum;
    }
    for (std::size_t i = 0; i < symbols.size(); ++i) symbols[i] += later.symbols[i];
    squares += later.squares;
    edges += later.edges;
    unitIntervals += later.unitIntervals;
    return true;
}

std::int64_t patternChunk(const JitterEdges &edges, std::int64_t pattern)
{
    return std::max(
        {std::int64_t(1) << 17, std::int64_t(edges.size()) / 24, pattern * std::int64_t(edges.levels * edges.levels)});
}

PatternSums sumsByPattern(const JitterEdges &edges, std::span<const double> errors, std::int64_t pattern,
                          std::span<const float> without, Progress &progress)
{
    const std::size_t size = std::size_t(pattern) * edges.levels * edges.levels;
    struct Sums {
        std::vector<PatternSums::Place> places;
        double squares = 0;
        void merge(const Sums &later)
        {
            if (places.empty()) places.resize(later.places.size());
            for (std::size_t i = 0; i < places.size(); ++i) {
                places[i].count += later.places[i].count;
                places[i].sum += later.places[i].sum;
            }
            squares += later.squares;
        }
    };
    Sums sums = inChunksMerged<Sums>({0, std::int64_t(edges.size())}, patternChunk(edges, pattern), progress,
                                     [&](SampleRange mine, Sums &part) {
                                         part.places.resize(size);
                                         forPlaces(edges, pattern, mine, [&](std::size_t edge, std::size_t at) {
                                             const double error = errors[edge] - (without.empty() ? 0 : without[edge]);
                                             ++part.places[at].count;
                                             part.places[at].sum += error;
                                             part.squares += error * error;
                                         });
                                     });
    PatternSums found;
    found.pattern = pattern;
    found.levels = edges.levels;
    found.places = std::move(sums.places);
    found.places.resize(size);
    found.squares = sums.squares;
    found.edges = std::int64_t(edges.size());
    found.unitIntervals = std::int64_t(edges.unitIntervals());
    found.symbols.resize(std::size_t(pattern) * edges.levels);
    auto at = std::size_t((edges.first % pattern + pattern) % pattern);
    for (const std::uint8_t symbol : edges.symbols) {
        if (symbol < edges.levels) ++found.symbols[at * edges.levels + symbol];
        if (++at == std::size_t(pattern)) at = 0;
    }
    return found;
}

} // namespace fulvex
