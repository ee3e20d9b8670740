#pragma once

#include "jitter_edges.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// What is added up of edges by their place in the pattern that data repeat. Mergeable: of several records it is that
/// of all their edges, where they repeat the same, each once it is aligned.
struct PatternSums {
    struct Place {
        std::int64_t count = 0;
        double sum = 0; ///< s
    };
    std::int64_t pattern = 0; ///< its length in symbols; 0: none
    std::size_t levels = 2;
    std::vector<Place> places;         ///< of each boundary those of each symbol left and each reached, in that order
    std::vector<std::int64_t> symbols; ///< of each boundary how often each symbol lies behind it
    double squares = 0;                ///< s², of all edges
    std::int64_t edges = 0, unitIntervals = 0;

    std::size_t steps() const { return levels * levels; }
    /// What lies behind each boundary most often.
    std::vector<std::uint8_t> usual() const;
    /// Counts boundaries from where the pattern, read from there on, comes first by alphabet: the same in every record.
    void align();
    /// Of another record, or records, both aligned. False: it repeats something else, and nothing was added.
    bool merge(const PatternSums &later);
};

/// Calls use(edge, place) for some edges, with the index of each in PatternSums::places.
template <typename Use>
void forPlaces(const JitterEdges &edges, std::int64_t pattern, SampleRange mine, Use &&use)
{
    if (mine.size() <= 0) return;
    const std::size_t steps = edges.levels * edges.levels;
    std::int64_t at = (edges.first + edges.places[std::size_t(mine.first)]) % pattern;
    if (at < 0) at += pattern;
    for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) {
        if (edge > std::size_t(mine.first)) at += edges.places[edge] - edges.places[edge - 1];
        if (at >= pattern && (at -= pattern) >= pattern) at %= pattern;
        use(edge, std::size_t(at) * steps + (edges.steps[edge] / 16) * edges.levels + edges.steps[edge] % 16);
    }
}

/// Edges of a pattern as they are shared out to be added up: no more parts than there is memory for, of a long one.
std::int64_t patternChunk(const JitterEdges &edges, std::int64_t pattern);

/// Of edges with `errors` (s, one for each), less `without` where it is not empty; boundaries are counted as the clock
/// counts them.
PatternSums sumsByPattern(const JitterEdges &edges, std::span<const double> errors, std::int64_t pattern,
                          std::span<const float> without, Progress &progress);

} // namespace fulvex
