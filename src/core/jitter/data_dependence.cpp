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

/// The symbols around an edge of a pattern, "0001|0": those before it, the one that it leaves, the one it reaches.
std::string symbolsAround(const std::vector<std::uint8_t> &usual, std::size_t place, std::uint8_t step)
{
    constexpr std::size_t most = 6;
    std::string words;
    const std::size_t n = usual.size();
    for (std::size_t k = most; k > 1; --k) words += char('0' + usual[(place + most * n - k) % n]);
    words += char('0' + step / 16);
    words += '|';
    words += char('0' + step % 16);
    return words;
}

/// Groups of a pattern, and of each of its places the one that it is.
DataDependence groupsOf(const PatternSums &pattern, const HistoryTree &tree, std::vector<std::uint32_t> &groupOf)
{
    DataDependence found;
    found.pattern = pattern.pattern;
    found.repeats = double(pattern.unitIntervals) / double(pattern.pattern);
    const std::size_t steps = pattern.steps();
    const std::vector<std::uint8_t> usual = pattern.usual();
    const auto n = std::ptrdiff_t(usual.size());
    const auto symbolAt = [&](std::ptrdiff_t place) { return std::size_t(usual[std::size_t((place % n + n) % n)]); };
    // Each place of the pattern has one step; an edge of another one there is an error of a symbol.
    struct Told {
        double mean = 0, share = 1; ///< by its history, s; what part of that its edges are
    };
    std::vector<Told> told(pattern.places.size());
    double between = 0;
    std::int64_t filled = 0;
    for (std::size_t at = 0; at < pattern.places.size(); ++at) {
        const PatternSums::Place &place = pattern.places[at];
        if (place.count == 0) continue;
        between += place.sum * place.sum / double(place.count);
        ++filled;
        const std::size_t history = tree.layout().historyAt(std::ptrdiff_t(at / steps), at % steps, symbolAt);
        if (tree.knows(history)) {
            const HistoryTree::Leaf &leaf = tree.leaves()[tree.leafOf(history)];
            told[at] = {leaf.mean, std::min(1.0, double(place.count) * leaf.freedom)};
        } else {
            told[at].mean = place.sum / double(place.count);
        }
    }
    const double variance = std::max(0.0, pattern.squares - between) / std::max(1.0, double(pattern.edges - filled));
    // What the edges of a place have of their own beside what their histories tell, as a mean square over the places:
    // what they scatter more than chance. Each is believed by that (empirical Bayes: C. N. Morris, JASA 78 (1983)).
    double own = 0, free = 0;
    for (std::size_t at = 0; at < pattern.places.size(); ++at) {
        const PatternSums::Place &place = pattern.places[at];
        if (place.count == 0) continue;
        const double off = place.sum / double(place.count) - told[at].mean, chance = variance / double(place.count);
        own += off * off - chance * (1 - told[at].share);
        free += 1 - told[at].share;
    }
    // What chance alone makes of their mean square is nothing of their own.
    constexpr double sure = 3;
    const double ofChance = variance * double(filled) / double(std::max<std::int64_t>(1, pattern.edges));
    own = free > 0.5 ? std::max(0.0, own / free) : 0;
    double unbelieved = 0; // may be theirs all the same
    if (own < sure * ofChance * std::sqrt(2 / free)) unbelieved = std::exchange(own, 0);
    groupOf.resize(pattern.places.size());
    for (std::size_t at = 0; at < pattern.places.size(); ++at) {
        const PatternSums::Place &place = pattern.places[at];
        if (place.count == 0) continue;
        const double chance = variance / double(place.count), mean = place.sum / double(place.count);
        const double believed = own + chance > 0 ? own / (own + chance) : 1;
        DataDependence::Group group;
        group.place = std::int64_t(at / steps);
        group.step = std::uint8_t(16 * (at % steps / pattern.levels) + at % steps % pattern.levels);
        group.symbols = symbolsAround(usual, std::size_t(group.place), group.step);
        group.count = place.count;
        group.mean = told[at].mean + believed * (mean - told[at].mean);
        group.taken = believed * chance + (1 - believed) * chance * told[at].share;
        group.uncertainty = std::sqrt(group.taken + unbelieved);
        groupOf[at] = std::uint32_t(found.groups.size());
        found.groups.push_back(std::move(group));
    }
    takeExtent(found);
    return found;
}

HistoryTree treeOf(HistorySums histories, std::int64_t edges)
{
    constexpr std::int64_t fewest = 30, enough = 200; // that a few more edges do not make the extent grow by themselves
    return HistoryTree(std::move(histories), std::clamp(edges / 8, fewest, enough));
}

DataDependence groupsOf(const HistoryTree &tree)
{
    DataDependence found;
    std::vector<UncertainMean> means;
    for (const HistoryTree::Leaf &leaf : tree.leaves()) {
        DataDependence::Group group;
        group.step = leaf.step;
        group.symbols = leaf.symbols;
        group.count = leaf.count;
        group.mean = leaf.mean;
        group.taken = tree.variance() * leaf.freedom;
        group.uncertainty = std::sqrt(leaf.variance);
        means.push_back({group.mean, group.uncertainty});
        found.groups.push_back(std::move(group));
    }
    const ExtentOfMeans extent = extentOf(means);
    found.peakToPeak = extent.extent;
    found.uncertainty = extent.uncertainty;
    return found;
}

constexpr std::int64_t fewestOfLeaf = 30; ///< edges, beside what their places tell

} // namespace

DataDependence byPattern(const PatternSums &pattern, HistorySums histories)
{
    std::vector<std::uint32_t> groupOf;
    return groupsOf(pattern, HistoryTree(std::move(histories), fewestOfLeaf), groupOf);
}

DataDependence byHistory(HistorySums histories)
{
    std::int64_t edges = 0;
    for (const HistorySums::Cell &cell : histories.cells) edges += cell.count;
    return groupsOf(treeOf(std::move(histories), edges));
}

DataDependence byPattern(const JitterEdges &edges, const Histories &histories, std::int64_t pattern,
                         std::span<const float> without, Progress &progress)
{
    const PatternSums sums = sumsByPattern(edges, edges.errors, pattern, without, progress);
    const HistoryTree tree(sumsByHistory(histories, edges.errors, without, progress), fewestOfLeaf);
    std::vector<std::uint32_t> groupOf;
    DataDependence found = groupsOf(sums, tree, groupOf);
    found.of.resize(edges.size());
    struct Nothing {};
    inChunks<Nothing>(
        {0, std::int64_t(edges.size())}, patternChunk(edges, pattern), progress, [&](SampleRange mine, Nothing &) {
            forPlaces(edges, pattern, mine, [&](std::size_t edge, std::size_t at) { found.of[edge] = groupOf[at]; });
        });
    return found;
}

DataDependence byHistory(const JitterEdges &edges, const Histories &histories, std::span<const float> without,
                         Progress &progress)
{
    const HistoryTree tree =
        treeOf(sumsByHistory(histories, edges.errors, without, progress), std::int64_t(edges.size()));
    DataDependence found = groupsOf(tree);
    found.of.resize(edges.size());
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(edges.size())}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge)
            found.of[edge] = tree.leafOf(histories.ofEdges()[edge]);
    });
    return found;
}

} // namespace fulvex
