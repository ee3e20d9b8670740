#include "data_dependence.h"

#include "extent_of_means.h"
#include "history_tree.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace fulvex {

namespace {

void takeExtent(DataDependence &found)
{
    if (found.groups.empty()) return;
    const auto [least, most] = std::minmax_element(found.groups.begin(), found.groups.end(),
                                                   [](const auto &a, const auto &b) { return a.mean < b.mean; });
    found.peakToPeak = most->mean - least->mean;
    found.uncertainty = least == most ? 0 : std::hypot(least->uncertainty, most->uncertainty);
}

/// The symbols around an edge of the pattern, "0001|0": the run before it and one more, the one that it reaches.
std::string symbolsAround(const JitterEdges &edges, std::size_t edge)
{
    constexpr std::ptrdiff_t most = 6;
    const std::ptrdiff_t place = edges.places[edge];
    std::string words;
    for (std::ptrdiff_t at = std::max<std::ptrdiff_t>(0, place - most); at < place; ++at) {
        const std::uint8_t symbol = edges.symbols[std::size_t(at)];
        words += symbol == noSymbol ? '.' : char('0' + symbol);
    }
    return words + '|' + char('0' + edges.steps[edge] % 16);
}

} // namespace

DataDependence byPattern(const JitterEdges &edges, const Histories &histories, std::int64_t pattern,
                         const std::vector<float> &without, Progress &progress)
{
    DataDependence found;
    found.pattern = pattern;
    found.repeats = double(edges.unitIntervals()) / double(pattern);
    const SampleRange all{0, std::int64_t(edges.size())};
    // Each place of the pattern has one step; an edge of another one there is an error of a symbol.
    struct Place {
        std::int64_t count = 0;
        double sum = 0;
        double leaf = 0, share = 0; ///< sums over its edges: of what their histories tell, of what part they are of it
        std::size_t some = 0;       ///< one of its edges
    };
    const std::size_t steps = edges.levels * edges.levels, size = std::size_t(pattern) * steps;
    /// Calls use(edge, place) for some edges.
    const auto placed = [&](SampleRange mine, const auto &use) {
        std::int64_t at = (edges.first + edges.places[std::size_t(mine.first)]) % pattern;
        for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) {
            if (edge > std::size_t(mine.first)) at += edges.places[edge] - edges.places[edge - 1];
            if (at >= pattern && (at -= pattern) >= pattern) at %= pattern;
            use(edge, std::size_t(at) * steps + (edges.steps[edge] / 16) * edges.levels + edges.steps[edge] % 16);
        }
    };
    constexpr std::int64_t fewest = 30;
    const HistoryTree tree(histories, edges.errors, without, fewest, progress);
    struct Sums {
        std::vector<Place> places;
        double squares = 0;
        void merge(const Sums &later)
        {
            if (places.empty()) places.resize(later.places.size());
            for (std::size_t i = 0; i < places.size(); ++i) {
                places[i].count += later.places[i].count;
                places[i].sum += later.places[i].sum;
                places[i].leaf += later.places[i].leaf;
                if (later.places[i].count > 0) places[i].some = later.places[i].some;
            }
            squares += later.squares;
        }
    };
    // No more parts than there is memory for, of a long pattern.
    const std::int64_t chunk = std::max({std::int64_t(1) << 17, all.size() / 24, std::int64_t(size)});
    Sums sums = inChunksMerged<Sums>(all, chunk, progress, [&](SampleRange mine, Sums &part) {
        part.places.resize(size);
        placed(mine, [&](std::size_t edge, std::size_t at) {
            Place &place = part.places[at];
            const double error = edges.errors[edge] - (without.empty() ? 0 : without[edge]);
            ++place.count;
            place.sum += error;
            place.leaf += tree.leaves()[tree.leafOf(edge)].mean;
            place.some = edge;
            part.squares += error * error;
        });
    });
    std::vector<Place> &places = sums.places;
    const double squares = sums.squares;
    double between = 0;
    std::int64_t filled = 0;
    for (Place &place : places) {
        if (place.count == 0) continue;
        between += place.sum * place.sum / double(place.count);
        ++filled;
    }
    const double variance =
        std::max(0.0, squares - between) / std::max(1.0, double(std::int64_t(edges.size()) - filled));
    // What the edges of a place have of their own beside what their histories tell, as a mean square over the places:
    // what they scatter more than chance. Each is believed by that (empirical Bayes: C. N. Morris, JASA 78 (1983)).
    double own = 0, free = 0;
    for (Place &place : places) {
        if (place.count == 0) continue;
        const auto &leaf = tree.leaves()[tree.leafOf(place.some)];
        place.share = std::min(1.0, double(place.count) * leaf.freedom);
        const double off = (place.sum - place.leaf) / double(place.count), chance = variance / double(place.count);
        own += off * off - chance * (1 - place.share);
        free += 1 - place.share;
    }
    // What chance alone makes of their mean square is nothing of their own.
    constexpr double sure = 3;
    const double ofChance = variance * double(filled) / double(edges.size());
    own = free > 0.5 ? std::max(0.0, own / free) : 0;
    double unbelieved = 0; // may be theirs all the same
    if (own < sure * ofChance * std::sqrt(2 / free)) unbelieved = std::exchange(own, 0);
    std::vector<std::uint32_t> groupOf(places.size());
    for (std::size_t at = 0; at < places.size(); ++at) {
        const Place &place = places[at];
        if (place.count == 0) continue;
        const double chance = variance / double(place.count), told = place.leaf / double(place.count);
        const double believed = own + chance > 0 ? own / (own + chance) : 1;
        DataDependence::Group group;
        group.place = std::int64_t(at / steps);
        group.step = edges.steps[place.some];
        group.symbols = symbolsAround(edges, place.some);
        group.count = place.count;
        group.mean = told + believed * (place.sum / double(place.count) - told);
        group.taken = believed * chance + (1 - believed) * chance * place.share;
        group.uncertainty = std::sqrt(group.taken + unbelieved);
        groupOf[at] = std::uint32_t(found.groups.size());
        found.groups.push_back(std::move(group));
    }
    found.of.resize(edges.size());
    struct Nothing {};
    inChunks<Nothing>(all, chunk, progress, [&](SampleRange mine, Nothing &) {
        placed(mine, [&](std::size_t edge, std::size_t at) { found.of[edge] = groupOf[at]; });
    });
    takeExtent(found);
    return found;
}

DataDependence byHistory(const JitterEdges &edges, const Histories &histories, const std::vector<float> &without,
                         Progress &progress)
{
    DataDependence found;
    constexpr std::int64_t fewest = 30, enough = 200; // that a few more edges do not make the extent grow by themselves
    const std::int64_t cases = std::clamp(std::int64_t(edges.size()) / 8, fewest, enough);
    const HistoryTree tree(histories, edges.errors, without, cases, progress);
    for (const HistoryTree::Leaf &leaf : tree.leaves()) {
        DataDependence::Group group;
        group.step = leaf.step;
        group.symbols = leaf.symbols;
        group.count = leaf.count;
        group.mean = leaf.mean;
        group.taken = tree.variance() * leaf.freedom;
        group.uncertainty = std::sqrt(leaf.variance);
        found.groups.push_back(std::move(group));
    }
    found.of.resize(edges.size());
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(edges.size())}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge)
            found.of[edge] = tree.leafOf(edge);
    });
    std::vector<UncertainMean> means;
    for (const DataDependence::Group &group : found.groups) means.push_back({group.mean, group.uncertainty});
    const ExtentOfMeans extent = extentOf(means);
    found.peakToPeak = extent.extent;
    found.uncertainty = extent.uncertainty;
    return found;
}

} // namespace fulvex
