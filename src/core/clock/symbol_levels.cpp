#include "symbol_levels.h"

#include "glances.h"
#include "parallel.h"
#include "raw_vector.h"
#include "symbol_middles.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

/// Values by their amplitude, ascending: so many with that mean.
struct Group {
    double count, mean;
};

std::vector<Group> groupsOf(const AmplitudeHistogram &histogram)
{
    // As many as the search below takes in no time.
    constexpr std::size_t most = 256;
    std::vector<Group> groups;
    const std::size_t together = (histogram.bins.size() + most - 1) / most;
    for (std::size_t first = 0; first < histogram.bins.size(); first += together) {
        double count = 0, sum = 0;
        for (std::size_t i = first; i < std::min(histogram.bins.size(), first + together); ++i) {
            count += histogram.bins[i].count;
            sum += histogram.bins[i].sum;
        }
        if (count > 0) groups.push_back({count, sum / count});
    }
    return groups;
}

/// The means of `count` runs of groups whose squares about these are the least of all. Fewer groups than that: the last
/// one again and again.
std::vector<double> meansOfFewest(const std::vector<Group> &groups, std::size_t count)
{
    const std::size_t n = groups.size();
    std::vector<double> counts(n + 1), sums(n + 1), squares(n + 1);
    const double origin = n ? groups[n / 2].mean : 0;
    for (std::size_t i = 0; i < n; ++i) {
        const double off = groups[i].mean - origin;
        counts[i + 1] = counts[i] + groups[i].count;
        sums[i + 1] = sums[i] + groups[i].count * off;
        squares[i + 1] = squares[i] + groups[i].count * off * off;
    }
    const auto cost = [&](std::size_t from, std::size_t to) {
        const double c = counts[to] - counts[from], s = sums[to] - sums[from];
        return std::max(0.0, squares[to] - squares[from] - s * s / c);
    };
    // best[k][i]: of the first i groups in k + 1 runs; cut: where the last of them begins.
    std::vector<std::vector<double>> best(count, std::vector<double>(n + 1, 0));
    std::vector<std::vector<std::size_t>> cut(count, std::vector<std::size_t>(n + 1, 0));
    for (std::size_t k = 0; k < count; ++k) {
        for (std::size_t i = 1; i <= n; ++i) {
            best[k][i] = std::numeric_limits<double>::infinity();
            if (k == 0) best[k][i] = cost(0, i);
            for (std::size_t from = k; k > 0 && from < i; ++from) {
                const double with = best[k - 1][from] + cost(from, i);
                if (with < best[k][i]) best[k][i] = with, cut[k][i] = from;
            }
        }
    }
    std::vector<double> means(count, n ? groups.back().mean : 0);
    std::size_t to = n;
    for (std::size_t k = std::min(count, n); k-- > 0;) {
        const std::size_t from = k ? cut[k][to] : 0;
        means[k] = origin + (sums[to] - sums[from]) / (counts[to] - counts[from]);
        to = from;
    }
    return means;
}

/// With thresholds and hysteresis as the rule says.
SymbolLevels completed(std::vector<double> levels, const SymbolLevelRule &rule)
{
    SymbolLevels found{std::move(levels), rule.thresholds, 0};
    double narrowest = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 1 < found.levels.size(); ++i) {
        narrowest = std::min(narrowest, found.levels[i + 1] - found.levels[i]);
        if (rule.thresholds.empty()) found.thresholds.push_back(found.middle(i, i + 1));
    }
    found.hysteresis = rule.hysteresis.value_or(0.1 * narrowest);
    return found;
}

} // namespace

std::vector<double> evenLevels(double least, double most, std::size_t count)
{
    std::vector<double> levels;
    for (std::size_t i = 0; i < count; ++i) levels.push_back(least + (most - least) * double(i) / double(count - 1));
    return levels;
}

SymbolLevels roughSymbolLevels(const AmplitudeHistogram &samples, const SymbolLevelRule &rule)
{
    assert(rule.count >= 2 && rule.count <= mostSymbols);
    if (!rule.levels.empty()) return completed(rule.levels, rule);
    if (rule.extremes) return completed(evenLevels(samples.least, samples.most, rule.count), rule);
    return completed(meansOfFewest(groupsOf(samples), rule.count), rule);
}

AmplitudeHistogram middlesHistogram(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                                    Progress &progress)
{
    constexpr std::int64_t together = 512, runs = 512;
    const std::int64_t count = unitIntervals.size();
    const bool all = count <= together * runs;
    const std::int64_t pieces = all ? (count + together - 1) / together : runs;
    struct Some {
        AmplitudeHistogram values;
        void merge(const Some &later) { values.merge(later.values); }
    };
    const Some found = inChunksMerged<Some>({0, pieces}, 8, progress, [&](SampleRange mine, Some &part) {
        std::vector<double> middles;
        SymbolMiddles reader(source, map);
        for (std::int64_t piece = mine.first; piece < mine.last; ++piece) {
            const std::int64_t first =
                unitIntervals.first +
                (all ? piece * together : std::int64_t(double(count - together) * double(piece) / double(runs - 1)));
            middles.resize(std::size_t(std::min(together, unitIntervals.last - first)));
            reader.values(first, middles);
            std::erase_if(middles, [](double v) { return !(v == v); });
            if (middles.empty()) continue;
            const auto [least, most] = std::minmax_element(middles.begin(), middles.end());
            part.values.add(middles, *least, *most);
        }
        releaseGlances(source, mine.size(), pieces);
    });
    return found.values;
}

std::size_t levelsAmong(const AmplitudeHistogram &middles)
{
    constexpr std::size_t bins = 128;
    constexpr double least = 0.02, evenness = 0.4;
    if (middles.bins.empty() || !(middles.most > middles.least)) return 1;
    std::vector<double> counts(bins), smooth(bins);
    double all = 0;
    for (const AmplitudeHistogram::Bin &bin : middles.bins) {
        if (bin.count == 0) continue;
        const double place = (bin.sum / bin.count - middles.least) / (middles.most - middles.least);
        counts[std::size_t(std::clamp(place * double(bins), 0.0, double(bins - 1)))] += bin.count;
        all += bin.count;
    }
    for (std::size_t i = 0; i < bins; ++i)
        for (std::size_t k = i > 2 ? i - 2 : 0; k < std::min(bins, i + 3); ++k) smooth[i] += counts[k];
    // Peaks from the left, each with what is its own: up to the lowest place before the next.
    struct Peak {
        std::size_t at;
        double height, mass;
    };
    std::vector<Peak> peaks;
    double lowest = 0; // since the last peak
    for (std::size_t i = 0; i < bins; ++i) {
        const bool apart = peaks.empty() || (2 * lowest < peaks.back().height && 2 * lowest < smooth[i]);
        if (smooth[i] > 0 && apart) {
            peaks.push_back({i, smooth[i], 0});
            lowest = smooth[i];
        } else if (!peaks.empty() && smooth[i] > peaks.back().height) {
            peaks.back().at = i;
            peaks.back().height = smooth[i];
            lowest = smooth[i];
        }
        lowest = std::min(lowest, smooth[i]);
        if (!peaks.empty()) peaks.back().mass += counts[i];
    }
    std::erase_if(peaks, [&](const Peak &peak) { return peak.mass < least * all; });
    const auto gap = [&](std::size_t i) { return double(peaks[i + 1].at - peaks[i].at); };
    while (peaks.size() > 2) {
        std::size_t narrow = 0, wide = 0;
        for (std::size_t i = 0; i + 1 < peaks.size(); ++i) {
            if (gap(i) < gap(narrow)) narrow = i;
            if (gap(i) > gap(wide)) wide = i;
        }
        if (gap(narrow) >= evenness * gap(wide)) break;
        Peak &left = peaks[narrow];
        const Peak right = peaks[narrow + 1];
        left.at = std::size_t((double(left.at) * left.mass + double(right.at) * right.mass) / (left.mass + right.mass));
        left.mass += right.mass;
        peaks.erase(peaks.begin() + std::ptrdiff_t(narrow) + 1);
    }
    return std::max<std::size_t>(1, std::min(peaks.size(), mostSymbols));
}

SymbolLevels symbolLevels(const SampleSource &source, const UnitIntervalMap &map, SampleRange unitIntervals,
                          const SymbolLevelRule &rule, const SymbolLevels &rough, Progress &progress)
{
    if (!rule.levels.empty() || rule.extremes) return rough;
    const AmplitudeHistogram values = middlesHistogram(source, map, unitIntervals, progress);
    if (values.bins.empty()) return rough;
    std::vector<double> levels = meansOfFewest(groupsOf(values), rule.count);
    constexpr int rounds = 32; // decided otherwise for ever: a bin that lies on a threshold
    for (int round = 0; round < rounds; ++round) {
        const std::vector<double> before = levels;
        const SymbolLevels now = completed(levels, rule);
        std::vector<double> counts(rule.count), sums(rule.count);
        for (const AmplitudeHistogram::Bin &bin : values.bins) {
            if (bin.count == 0) continue;
            const std::size_t symbol = symbolOf(bin.sum / bin.count, now.thresholds);
            counts[symbol] += bin.count;
            sums[symbol] += bin.sum;
        }
        for (std::size_t i = 0; i < rule.count; ++i)
            if (counts[i] > 0) levels[i] = sums[i] / counts[i];
        if (levels == before) break;
    }
    std::sort(levels.begin(), levels.end());
    return completed(std::move(levels), rule);
}

} // namespace fulvex
