#pragma once

#include "jitter_sums.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

// What sums of jitter are made of, for part_contents.cpp; see part_archive.h.

template <typename Archive>
static void describe(Archive &to, AmplitudeHistogram::Bin &bin)
{
    to(bin.count, bin.sum);
    if constexpr (Archive::reads)
        to.need(bin.count >= 0 && std::isfinite(bin.count) && std::isfinite(bin.sum), "has bins of no numbers");
}

template <typename Archive>
static void describe(Archive &to, AmplitudeHistogram &histogram)
{
    to(histogram.grid, histogram.least, histogram.most, histogram.bins);
    if constexpr (Archive::reads) {
        constexpr double farthest = 1e150;
        const bool any = !histogram.bins.empty();
        to.need(!any ||
                    (histogram.least <= histogram.most && histogram.least >= -farthest && histogram.most <= farthest &&
                     histogram.bins.size() == std::size_t(histogram.grid.count) &&
                     histogram.grid == NestedBins::over(histogram.least, histogram.most, AmplitudeHistogram::between)),
                "has edges whose bins are not as they are laid");
    }
}

template <typename Archive>
static void describe(Archive &to, HistorySums &sums)
{
    std::vector<std::pair<std::uint64_t, std::pair<std::int64_t, double>>> filled; // empty ones before, and a cell
    if constexpr (!Archive::reads) {
        std::uint64_t empty = 0;
        for (const HistorySums::Cell &cell : sums.cells) {
            if (cell.count == 0) {
                ++empty;
                continue;
            }
            filled.push_back({empty, {cell.count, cell.sum}});
            empty = 0;
        }
    }
    to(sums.levels, sums.squares, filled);
    if constexpr (Archive::reads) {
        to.need(sums.levels >= 2 && sums.levels <= 4 && std::isfinite(sums.squares), "has edges of no levels");
        if (filled.empty()) return;
        sums.cells.resize(HistoryLayout(sums.levels).size());
        std::uint64_t at = 0;
        for (const auto &[before, cell] : filled) {
            to.need(before < sums.cells.size() && at + before < sums.cells.size() && cell.first > 0 &&
                        std::isfinite(cell.second),
                    "has edges of histories that are none");
            at += before;
            sums.cells[at++] = {cell.first, cell.second};
        }
    }
}

template <typename Archive>
static void describe(Archive &to, PatternSums::Place &place)
{
    to(place.count, place.sum);
    if constexpr (Archive::reads) to.need(place.count >= 0 && std::isfinite(place.sum), "has edges of no number");
}

template <typename Archive>
static void describe(Archive &to, PatternSums &sums)
{
    to(sums.pattern, sums.levels, sums.places, sums.symbols, sums.squares, sums.edges, sums.unitIntervals);
    if constexpr (Archive::reads) {
        constexpr std::int64_t longest = std::int64_t(1) << 32;
        to.need(sums.pattern >= 0 && sums.pattern < longest && sums.levels >= 2 && sums.levels <= 4 &&
                    sums.places.size() == std::size_t(sums.pattern) * sums.steps() &&
                    sums.symbols.size() == std::size_t(sums.pattern) * sums.levels && std::isfinite(sums.squares),
                "has a pattern that is not as long as its sums");
    }
}

template <typename Archive>
static void describe(Archive &to, PeriodicLine &line)
{
    to(line.frequency, line.amplitude, line.phase, line.uncertainty, line.frequencyUncertainty, line.share);
}

template <typename Archive>
static void describe(Archive &to, JitterSums::Line &line)
{
    to(line.line, line.resolution, line.count);
    if constexpr (Archive::reads)
        to.need(line.line.frequency > 0 && line.line.amplitude > 0 && std::isfinite(line.line.frequency) &&
                    std::isfinite(line.line.amplitude) && line.resolution > 0 && line.count > 0,
                "has lines that are none");
}

template <typename Archive>
static void describe(Archive &to, JitterSums::Direction &direction)
{
    to(direction.count, direction.sum, direction.squares);
}

template <typename Archive>
static void describe(Archive &to, JitterSums &sums)
{
    to(sums.records, sums.reason, sums.unitInterval, sums.count, sums.unitIntervals, sums.rising, sums.falling,
       sums.histories, sums.pattern, sums.otherLevels, sums.unlike, sums.whyNoPattern, sums.squares, sums.free,
       sums.uncertain, sums.spread.errors, sums.spread.rest, sums.lines);
    if constexpr (Archive::reads)
        to.need(sums.records >= 0 &&
                    (sums.records == 0 || (sums.count > 0 && sums.unitIntervals > 0 && sums.unitInterval > 0 &&
                                           sums.free > 0 && std::isfinite(sums.squares) && std::isfinite(sums.free))),
                "has jitter of no edges");
}

} // namespace fulvex
