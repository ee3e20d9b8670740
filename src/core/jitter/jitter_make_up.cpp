#include "jitter_make_up.h"

#include "jitter_sums.h"
#include "parallel.h"
#include "symbol_pattern.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace fulvex {

namespace {

/// Repeats below which a pattern's own means are not told from chance: then it is data like any.
constexpr double fewestRepeats = 4;
/// Edges below which not even one symbol before an edge has 30 cases of each.
constexpr std::size_t fewestOfHistories = 120;

/// Symbols after which data repeat, often enough to be told by that; 0: they do not.
std::int64_t patternIn(const JitterEdges &edges, const JitterRule &rule, Progress &progress)
{
    std::int64_t pattern = rule.pattern.value_or(0);
    if (!rule.data)
        pattern = 2;
    else if (!rule.pattern) {
        const auto some = std::min<std::size_t>(edges.symbols.size(), 2 * longestPattern);
        pattern = patternOf(std::span(edges.symbols).first(some), progress).length;
    }
    return double(edges.unitIntervals()) >= fewestRepeats * double(pattern) ? pattern : 0;
}

DataDependence dependenceOf(const JitterEdges &edges, const Histories &histories, const JitterRule &rule,
                            std::int64_t pattern, std::span<const float> lines, Progress &progress)
{
    if (pattern > 0) return byPattern(edges, histories, pattern, lines, progress);
    DataDependence found = byHistory(edges, histories, lines, progress);
    if (rule.data && rule.pattern.value_or(0) > 0) // which was asked for
        found.reason = "a pattern of " + std::to_string(*rule.pattern) + " UI needs " +
                       std::to_string(int(fewestRepeats)) + " repeats, and there are " +
                       std::to_string(edges.unitIntervals()) + " UI: take a longer capture or region, or \"none\"";
    else if (edges.size() < fewestOfHistories)
        found.reason = "too few edges to tell by what comes before them: " + std::to_string(edges.size()) + ", of " +
                       std::to_string(fewestOfHistories) + " at least; take a longer capture or region";
    return found;
}

/// What lines are at all edges. Those at multiples of the pattern's rate cannot be told from it: a few of them are
/// lines, many are what the pattern does.
RawVector<float> linesBeside(const std::vector<PeriodicLine> &lines, const JitterEdges &edges, std::int64_t pattern,
                             Progress &progress)
{
    constexpr std::size_t few = 3;
    std::vector<PeriodicLine> own, atMultiples;
    for (const PeriodicLine &line : lines) {
        // As near as its frequency is known: what is beside a multiple is none of the pattern's.
        constexpr double sure = 4, resolved = 0.02;
        const double period = double(pattern) * edges.unitInterval, times = line.frequency * period,
                     near = std::max(sure * line.frequencyUncertainty * period,
                                     resolved * double(pattern) / double(edges.unitIntervals()));
        (pattern > 0 && std::abs(times - std::round(times)) < near ? atMultiples : own).push_back(line);
    }
    if (atMultiples.size() <= few) own = lines;
    return own.empty() ? RawVector<float>() : linesAt(own, edges, progress);
}

/// What chance leaves of a standard deviation, where neighbours hang together: by the mean squares of batches.
double uncertaintyOfRms(std::span<const double> rest, double rms)
{
    const auto batches = std::max<std::size_t>(16, std::size_t(std::sqrt(double(rest.size()))));
    if (rest.size() < 2 * batches || rms == 0) return 0;
    double sum = 0, squares = 0;
    for (std::size_t batch = 0; batch < batches; ++batch) {
        const std::size_t first = batch * rest.size() / batches, last = (batch + 1) * rest.size() / batches;
        double mean = 0;
        for (std::size_t i = first; i < last; ++i) mean += rest[i] * rest[i];
        mean /= double(last - first);
        sum += mean;
        squares += mean * mean;
    }
    const double n = double(batches), variance = std::max(0.0, squares - sum * sum / n) / (n - 1);
    return std::sqrt(variance / n) / (2 * rms);
}

RawVector<double> restOf(const JitterEdges &edges, const DataDependence &data, Progress &progress)
{
    RawVector<double> rest(edges.size());
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(edges.size())}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        for (auto i = std::size_t(mine.first); i < std::size_t(mine.last); ++i)
            rest[i] = edges.errors[i] - data.meanOf(i);
    });
    return rest;
}

constexpr std::size_t enoughAhead = 1 << 20; ///< edges, for what a first look at them is

/// The lines that the middle ones of very many edges show, as they go on to all of them.
std::vector<PeriodicLine> linesAhead(const JitterEdges &all, const JitterRule &rule, std::int64_t pattern,
                                     Progress &progress)
{
    const std::size_t from = (all.size() - enoughAhead) / 2;
    const JitterEdges some = all.between(from, from + enoughAhead);
    const Histories histories(some, progress);
    const DataDependence data = rule.data ? byHistory(some, histories, {}, progress)
                                          : dependenceOf(some, histories, rule, pattern, {}, progress);
    RawVector<double> rest = restOf(some, data, progress);
    std::vector<PeriodicLine> lines = takeOutLines(some, rest, {}, false, progress);
    const double later = all.middle() - all.places[from] - some.middle(); // the middle of all, unit intervals
    for (PeriodicLine &line : lines) {
        const double turns = line.frequency * all.unitInterval * later;
        line.phase =
            std::remainder(line.phase + 2 * std::numbers::pi * (turns - std::floor(turns)), 2 * std::numbers::pi);
    }
    return lines;
}

using Sums = JitterSums::Direction;

struct Directions {
    Sums of[2]; ///< falling, rising
    void merge(const Directions &later)
    {
        for (int way = 0; way < 2; ++way) of[way].merge(later.of[way]);
    }
};

/// The sum of `value(edge)` over all edges, in the order of the record.
template <typename Value>
double sumOver(const JitterEdges &edges, Progress &progress, const Value &value)
{
    return inChunksMerged<Sums>({0, std::int64_t(edges.size())}, defaultChunk, progress,
                                [&](SampleRange mine, Sums &part) {
                                    for (auto i = std::size_t(mine.first); i < std::size_t(mine.last); ++i)
                                        part.sum += value(i);
                                })
        .sum;
}

} // namespace

std::optional<double> JitterMakeUp::dutyCycle() const
{
    if (rising.count == 0 || falling.count == 0) return {};
    return std::abs(rising.mean - falling.mean);
}

double JitterMakeUp::dutyCycleUncertainty() const
{
    const auto square = [](const Direction &one) {
        return one.std * one.std / double(std::max<std::int64_t>(1, one.count));
    };
    return std::sqrt(square(rising) + square(falling));
}

double JitterMakeUp::periodic() const
{
    double sum = 0;
    for (const PeriodicLine &line : lines) sum += line.peakToPeak();
    return sum;
}

double JitterMakeUp::periodicUncertainty() const
{
    double squares = 0;
    for (const PeriodicLine &line : lines) squares += 4 * line.uncertainty * line.uncertainty;
    return std::sqrt(squares);
}

std::vector<BoundedJitter::Value> dataValuesOf(const JitterMakeUp &found)
{
    std::vector<BoundedJitter::Value> values;
    for (const DataDependence::Group &group : found.data.groups)
        values.push_back({group.mean, double(group.count) / double(found.count)});
    return values;
}

JitterSpread spreadOf(const JitterMakeUp &found)
{
    return found.spread ? *found.spread
                        : JitterSpread{AmplitudeHistogram::of(found.edges.errors), AmplitudeHistogram::of(found.rest)};
}

JitterTails tailsOf(const JitterMakeUp &found)
{
    JitterTails tails;
    tails.fit = fitTails(found.spread ? found.spread->rest : AmplitudeHistogram::of(found.rest));
    tails.bounded = std::make_shared<const BoundedJitter>(dataValuesOf(found), found.lines, tails.fit.apart);
    return tails;
}

JitterMakeUp makeUpOf(JitterEdges edges, const JitterRule &rule, Progress &progress)
{
    JitterMakeUp found;
    found.edges = std::move(edges);
    const JitterEdges &all = found.edges;
    found.count = std::int64_t(all.size());
    found.unitIntervals = std::int64_t(all.unitIntervals());
    constexpr std::size_t fewest = 100;
    if (all.size() < fewest) {
        found.reason = std::to_string(all.size()) + " transitions after the clock has settled; a make-up needs " +
                       std::to_string(fewest) + ": take a longer capture or region";
        return found;
    }
    const SampleRange everyEdge{0, std::int64_t(all.size())};
    struct Nothing {};
    const double mean = sumOver(all, progress, [&](std::size_t i) { return all.errors[i]; }) / double(all.size());
    inChunks<Nothing>(everyEdge, defaultChunk, progress, [&](SampleRange mine, Nothing &) { // it is about the mean
        for (auto i = std::size_t(mine.first); i < std::size_t(mine.last); ++i) found.edges.errors[i] -= mean;
    });

    // What data do hides lines, and lines what data do: each is told once more without the other. First by what comes
    // before an edge alone, which few repeats of a pattern leave as it is; of very many edges by some of them, where
    // what is missed there is known in time.
    const std::int64_t pattern = patternIn(all, rule, progress);
    RawVector<float> lines;
    bool ahead = all.size() >= 2 * enoughAhead;
    if (ahead) {
        found.lines = linesAhead(all, rule, pattern, progress);
        lines = linesBeside(found.lines, all, pattern, progress);
    }
    std::unique_ptr<const Histories> histories;
    for (int round = ahead ? 1 : 0; round < 2; ++round) {
        const bool first = round == 0 && rule.data && pattern > 0;
        found.data = {}; // of as many edges as there may be, nothing is held that is not needed
        found.rest = RawVector<double>();
        if (!histories) histories = std::make_unique<const Histories>(all, progress);
        found.data = first ? byHistory(all, *histories, lines, progress)
                           : dependenceOf(all, *histories, rule, pattern, lines, progress);
        found.rest = restOf(all, found.data, progress);
        lines = RawVector<float>();
        const bool last = round == 1;
        if (last) histories.reset();
        const std::size_t known = found.lines.size();
        found.lines = takeOutLines(all, found.rest, found.lines, last, progress);
        lines = linesBeside(found.lines, all, pattern, progress);
        if (lines.empty() && !first && !last) break;
        if (std::exchange(ahead, false) && found.lines.size() > known) --round; // they stand elsewhere
    }
    // About the means of all edges, less what lines happen to be at them.
    const auto directions =
        inChunksMerged<Directions>(everyEdge, defaultChunk, progress, [&](SampleRange mine, Directions &part) {
            for (auto i = std::size_t(mine.first); i < std::size_t(mine.last); ++i) {
                Sums &own = part.of[all.isRising(i)];
                const double value = all.errors[i] - (lines.empty() ? 0 : lines[i]);
                ++own.count;
                own.sum += value;
                own.squares += value * value;
            }
        });
    found.falling = directions.of[0].told();
    found.rising = directions.of[1].told();

    double squares = sumOver(all, progress, [&](std::size_t i) { return found.rest[i] * found.rest[i]; });
    // What the means took along of it, each as often as it was taken off.
    for (const DataDependence::Group &group : found.data.groups) squares += double(group.count) * group.taken;
    const double free = std::max(1.0, double(all.size()) - 3.0 * double(found.lines.size()));
    found.random = std::sqrt(squares / free);
    found.randomUncertainty = uncertaintyOfRms(found.rest, found.random);
    found.bounded = std::make_shared<const BoundedJitter>(dataValuesOf(found), found.lines, 0);
    return found;
}

} // namespace fulvex
