#include "jitter_sums.h"

#include "parallel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

JitterSums::Direction sumsOf(const JitterMakeUp::Direction &told)
{
    const auto n = double(told.count);
    return {told.count, n * told.mean, n * told.mean * told.mean + std::max(0.0, n - 1) * told.std * told.std};
}

bool comesBefore(const JitterSums::Line &a, const JitterSums::Line &b)
{
    return a.line.frequency != b.line.frequency ? a.line.frequency < b.line.frequency
                                                : a.line.amplitude < b.line.amplitude;
}

/// One line of those of several records, first to last, of `all` edges.
PeriodicLine together(const JitterSums::Line *first, const JitterSums::Line *last, double all)
{
    double edges = 0, power = 0, frequency = 0, uncertain = 0, frequencyUncertain = 0;
    for (const JitterSums::Line *one = first; one != last; ++one) {
        const PeriodicLine &line = one->line;
        const double n = double(one->count), own = n * line.amplitude * line.amplitude;
        edges += n;
        power += own;
        frequency += own * line.frequency;
        uncertain += std::pow(n * line.amplitude * line.uncertainty, 2);
        frequencyUncertain += std::pow(own * line.frequencyUncertainty, 2);
    }
    PeriodicLine line = first->line;
    if (last - first > 1) line.phase = 0; // each record's is another one
    line.frequency = frequency / power;
    line.frequencyUncertainty = std::sqrt(frequencyUncertain) / power;
    line.amplitude = std::sqrt(power / edges);
    line.uncertainty = std::sqrt(uncertain) / (edges * line.amplitude);
    line.share = edges / all;
    line.harmonic = 1;
    return line;
}

std::vector<PeriodicLine> linesOf(const JitterSums &sums, double random)
{
    std::vector<PeriodicLine> lines;
    const auto &all = sums.lines;
    for (std::size_t first = 0; first < all.size();) {
        std::size_t last = first + 1;
        while (last < all.size() && all[last].line.frequency - all[last - 1].line.frequency <
                                        std::max(all[last].resolution, all[last - 1].resolution))
            ++last;
        const PeriodicLine line = together(all.data() + first, all.data() + last, double(sums.count));
        const bool again = last - first > 1 || sums.records == 1;
        if (again || line.amplitude > random) lines.push_back(line);
        first = last;
    }
    std::sort(lines.begin(), lines.end(),
              [](const PeriodicLine &a, const PeriodicLine &b) { return a.amplitude > b.amplitude; });
    nameHarmonics(lines);
    return lines;
}

} // namespace

void JitterSums::Direction::merge(const Direction &later)
{
    count += later.count;
    sum += later.sum;
    squares += later.squares;
}

JitterMakeUp::Direction JitterSums::Direction::told() const
{
    const auto n = double(std::max<std::int64_t>(1, count));
    const double mean = sum / n;
    return {count, mean, count > 1 ? std::sqrt(std::max(0.0, squares - sum * mean) / (n - 1)) : 0};
}

JitterSums JitterSums::of(const JitterMakeUp &found, Progress &progress)
{
    JitterSums sums;
    sums.reason = found.reason;
    if (!found.reason.empty()) return sums;
    const JitterEdges &edges = found.edges;
    sums.records = 1;
    sums.count = found.count;
    sums.unitIntervals = found.unitIntervals;
    sums.unitInterval = edges.unitInterval * double(found.unitIntervals);
    sums.rising = sumsOf(found.rising);
    sums.falling = sumsOf(found.falling);
    sums.whyNoPattern = found.data.reason;
    // Errors less lines: what is left, and what data give.
    std::vector<double> beside(edges.size());
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(edges.size())}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        for (auto i = std::size_t(mine.first); i < std::size_t(mine.last); ++i)
            beside[i] = found.rest[i] + found.data.meanOf(i);
    });
    sums.histories = sumsByHistory(Histories(edges, progress), beside, {}, progress);
    if (found.data.pattern > 0) {
        sums.pattern = sumsByPattern(edges, beside, found.data.pattern, {}, progress);
        sums.pattern.align();
    }
    sums.free = std::max(1.0, double(found.count) - 3.0 * double(found.lines.size()));
    sums.squares = found.random * found.random * sums.free;
    sums.uncertain = std::pow(2 * found.random * found.randomUncertainty * sums.free, 2);
    sums.spread = spreadOf(found);
    const double lasts = sums.unitInterval;
    for (const PeriodicLine &line : found.lines) sums.lines.push_back({line, 1 / lasts, found.count});
    std::sort(sums.lines.begin(), sums.lines.end(), comesBefore);
    return sums;
}

void JitterSums::merge(const JitterSums &later)
{
    if (!later.reason.empty() && (reason.empty() || later.reason < reason)) reason = later.reason;
    if (later.records == 0) return;
    if (records == 0) {
        const std::string why = reason;
        *this = later;
        reason = why;
        return;
    }
    otherLevels = otherLevels || later.otherLevels || histories.levels != later.histories.levels;
    if (otherLevels)
        histories = {};
    else
        histories.merge(later.histories);
    unlike = unlike || later.unlike || !pattern.merge(later.pattern);
    if (unlike) pattern = {};
    records += later.records;
    unitInterval += later.unitInterval;
    count += later.count;
    unitIntervals += later.unitIntervals;
    rising.merge(later.rising);
    falling.merge(later.falling);
    if (!later.whyNoPattern.empty() && (whyNoPattern.empty() || later.whyNoPattern < whyNoPattern))
        whyNoPattern = later.whyNoPattern;
    squares += later.squares;
    free += later.free;
    uncertain += later.uncertain;
    spread.errors.merge(later.spread.errors);
    spread.rest.merge(later.spread.rest);
    const auto middle = std::ptrdiff_t(lines.size());
    lines.insert(lines.end(), later.lines.begin(), later.lines.end());
    std::inplace_merge(lines.begin(), lines.begin() + middle, lines.end(), comesBefore);
}

JitterMakeUp JitterSums::makeUp() const
{
    JitterMakeUp found;
    found.reason = records == 0 ? reason
                   : otherLevels
                       ? "the captures have not as many amplitude levels as each other: leave out those that are unlike"
                       : "";
    if (!found.reason.empty()) return found;
    found.records = int(records);
    found.count = count;
    found.unitIntervals = unitIntervals;
    found.edges.unitInterval = unitInterval / double(unitIntervals);
    found.edges.levels = histories.levels;
    found.rising = rising.told();
    found.falling = falling.told();
    found.data = pattern.pattern > 0 ? byPattern(pattern, histories) : byHistory(histories);
    if (pattern.pattern == 0) found.data.reason = whyNoPattern;
    found.random = std::sqrt(squares / free);
    found.randomUncertainty = found.random > 0 ? std::sqrt(uncertain) / (2 * found.random * free) : 0;
    found.lines = linesOf(*this, found.random);
    found.spread = std::make_shared<const JitterSpread>(spread);
    found.bounded = std::make_shared<const BoundedJitter>(dataValuesOf(found), found.lines, 0);
    return found;
}

} // namespace fulvex
