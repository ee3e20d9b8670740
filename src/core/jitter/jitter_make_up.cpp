#include "jitter_make_up.h"

#include "symbol_pattern.h"

#include <algorithm>
#include <cmath>

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

DataDependence dependenceOf(const JitterEdges &edges, const JitterRule &rule, std::int64_t pattern,
                            const std::vector<double> &lines, Progress &progress)
{
    if (pattern > 0) return byPattern(edges, pattern, lines, progress);
    DataDependence found = byHistory(edges, lines, progress);
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
std::vector<double> linesBeside(const std::vector<PeriodicLine> &lines, const JitterEdges &edges, std::int64_t pattern)
{
    constexpr std::size_t few = 3;
    std::vector<PeriodicLine> own, atMultiples;
    for (const PeriodicLine &line : lines) {
        const double times = line.frequency * double(pattern) * edges.unitInterval,
                     near = double(pattern) / double(edges.unitIntervals());
        (pattern > 0 && std::abs(times - std::round(times)) < near ? atMultiples : own).push_back(line);
    }
    if (atMultiples.size() <= few) own = lines;
    if (own.empty()) return {};
    std::vector<double> values(edges.size());
    for (std::size_t edge = 0; edge < edges.size(); ++edge) values[edge] = linesAt(own, edges, edge);
    return values;
}

/// What chance leaves of a standard deviation, where neighbours hang together: by the mean squares of batches.
double uncertaintyOfRms(const std::vector<double> &rest, double rms)
{
    const auto batches = std::max<std::size_t>(16, std::size_t(std::sqrt(double(rest.size()))));
    if (rest.size() < 2 * batches || rms == 0) return 0;
    double sum = 0, squares = 0;
    for (std::size_t batch = 0; batch < batches; ++batch) {
        const std::size_t first = batch * rest.size() / batches, last = (batch + 1) * rest.size() / batches;
        double mean = 0;
        for (std::size_t i = first; i < last; ++i) mean += rest[i] * rest[i] / double(last - first);
        sum += mean;
        squares += mean * mean;
    }
    const double n = double(batches), variance = std::max(0.0, squares - sum * sum / n) / (n - 1);
    return std::sqrt(variance / n) / (2 * rms);
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

/// What data give edges, each value as often as it occurs.
static std::vector<BoundedJitter::Value> valuesOf(const DataDependence &data, std::size_t edges)
{
    std::vector<BoundedJitter::Value> values;
    for (const DataDependence::Group &group : data.groups)
        values.push_back({group.mean, double(group.count) / double(edges)});
    return values;
}

JitterTails tailsOf(const JitterMakeUp &found)
{
    JitterTails tails;
    tails.fit = fitTails(found.rest);
    tails.bounded =
        std::make_shared<const BoundedJitter>(valuesOf(found.data, found.edges.size()), found.lines, tails.fit.apart);
    return tails;
}

JitterMakeUp makeUpOf(JitterEdges edges, const JitterRule &rule, Progress &progress)
{
    JitterMakeUp found;
    found.edges = std::move(edges);
    const JitterEdges &all = found.edges;
    constexpr std::size_t fewest = 100;
    if (all.size() < fewest) {
        found.reason = std::to_string(all.size()) + " transitions after the clock has settled; a make-up needs " +
                       std::to_string(fewest) + ": take a longer capture or region";
        return found;
    }
    double mean = 0;
    for (const double error : all.errors) mean += error / double(all.size());
    for (double &error : found.edges.errors) error -= mean; // the make-up is about the mean

    // What data do hides lines, and lines what data do: each is told once more without the other. First by what comes
    // before an edge alone, which few repeats of a pattern leave as it is.
    const std::int64_t pattern = patternIn(all, rule, progress);
    std::vector<double> lines;
    for (int round = 0; round < 2; ++round) {
        const bool first = round == 0 && rule.data && pattern > 0;
        found.data = first ? byHistory(all, lines, progress) : dependenceOf(all, rule, pattern, lines, progress);
        found.rest = all.errors;
        for (std::size_t i = 0; i < all.size(); ++i) found.rest[i] -= found.data.meanOf(i);
        found.lines = takeOutLines(all, found.rest, progress);
        lines = linesBeside(found.lines, all, pattern);
        if (lines.empty() && !first) break;
    }
    // About the means of all edges, less what lines happen to be at them.
    for (std::size_t i = 0; i < all.size(); ++i) {
        JitterMakeUp::Direction &own = all.isRising(i) ? found.rising : found.falling;
        const double value = all.errors[i] - (lines.empty() ? 0 : lines[i]);
        ++own.count;
        const double step = value - own.mean;
        own.mean += step / double(own.count);
        own.std += step * (value - own.mean);
    }
    for (JitterMakeUp::Direction *one : {&found.rising, &found.falling})
        one->std = one->count > 1 ? std::sqrt(one->std / double(one->count - 1)) : 0;

    double squares = 0;
    for (const double value : found.rest) squares += value * value;
    // What the means took along of it: their own variances, each as often as it was taken off.
    for (const DataDependence::Group &group : found.data.groups)
        squares += double(group.count) * group.uncertainty * group.uncertainty;
    const double free = std::max(1.0, double(all.size()) - 3.0 * double(found.lines.size()));
    found.random = std::sqrt(squares / free);
    found.randomUncertainty = uncertaintyOfRms(found.rest, found.random);
    found.bounded = std::make_shared<const BoundedJitter>(valuesOf(found.data, all.size()), found.lines, 0);
    return found;
}

} // namespace fulvex
