#include "amplitude_survey.h"

#include "code_counts.h"
#include "jackknife.h"
#include "parallel.h"

#include <algorithm>
#include <array>
#include <limits>
#include <optional>
#include <utility>

namespace fulvex {

void AmplitudeSurvey::merge(const AmplitudeSurvey &later)
{
    stats.merge(later.stats);
    histogram.merge(later.histogram);
    runs.merge(later.runs);
    stretches.insert(stretches.end(), later.stretches.begin(), later.stretches.end());
}

namespace {

/// Where `count` stretches of a range begin, and where the last of them ends, looked for within so many samples of
/// each; nothing where the signal does not pass its middle in all of them.
std::optional<std::vector<std::int64_t>> passages(const SampleSource &source, SampleRange range, std::int64_t count,
                                                  std::int64_t reach, bool always)
{
    std::vector<std::int64_t> bounds;
    std::vector<std::vector<double>> ahead; // of each bound; of the last one what lies before it
    double least = std::numeric_limits<double>::infinity(), most = -least;
    for (std::int64_t k = 0; k <= count; ++k) {
        bounds.push_back(range.first + range.size() * k / count - (k == count ? reach : 0));
        ahead.emplace_back(std::size_t(reach));
        source.read(bounds.back(), ahead.back());
        for (const double v : ahead.back()) {
            least = std::min(least, v); // NaN loses
            most = std::max(most, v);
        }
    }
    const double middle = least + (most - least) / 2, below = least + 0.4 * (most - least);
    for (std::int64_t k = 0; k <= count; ++k) {
        bool wasBelow = false, passes = false;
        std::int64_t passed = k == count ? reach : 0; // where it does not pass
        for (std::int64_t i = 0; i < reach; ++i) {
            const double v = ahead[std::size_t(k)][std::size_t(i)];
            wasBelow |= v < below;
            if (!wasBelow || !(v >= middle)) continue;
            passed = i;
            passes = true;
            wasBelow = false;
            if (k < count) break; // of the last bound the last passage
        }
        if (!passes && !always) return std::nullopt;
        bounds[std::size_t(k)] += passed;
    }
    return bounds;
}

std::vector<std::int64_t> stretchBounds(const SampleSource &source, SampleRange range, std::int64_t count)
{
    constexpr std::int64_t farthest = 1 << 15, usual = 512; // samples
    const std::int64_t reach = std::min(farthest, range.size() / count / 8);
    if (reach > usual) {
        if (const auto near = passages(source, range, count, usual, false)) return *near;
    }
    return *passages(source, range, count, reach, true);
}

} // namespace

AmplitudeSurvey surveyAmplitudes(const SampleSource &source, SampleRange range, Progress &progress, bool withStretches)
{
    constexpr std::int64_t parts = 256;    // each with a histogram of its own
    constexpr std::int64_t shortest = 512; // samples of a stretch: for the work of its histogram
    std::vector<std::int64_t> bounds;
    if (withStretches && range.size() > 0)
        bounds = stretchBounds(source, range,
                               std::clamp<std::int64_t>(range.size() / shortest, jackknifeParts / 2, jackknifeParts));
    // What lies before the first bound, the stretches, and what lies behind the last one; in chunks of each.
    const std::int64_t longest = std::max(defaultChunk, range.size() / parts);
    std::vector<SampleRange> chunks;
    std::vector<std::size_t> firstChunks; // of each of those
    for (std::size_t i = 0; i <= bounds.size(); ++i) {
        firstChunks.push_back(chunks.size());
        const SampleRange some{i > 0 ? bounds[i - 1] : range.first, i < bounds.size() ? bounds[i] : range.last};
        for (std::int64_t first = some.first; first < some.last; first += longest)
            chunks.push_back({first, std::min(some.last, first + longest)});
    }
    firstChunks.push_back(chunks.size());
    auto found = inGivenChunks<AmplitudeSurvey>(chunks, progress, [&](SampleRange mine, AmplitudeSurvey &part) {
        std::array<double, 3> before;
        const auto there = std::span(before).first(std::size_t(std::min<std::int64_t>(3, mine.first - range.first)));
        source.read(mine.first - std::int64_t(there.size()), there);
        ExtremeRunFinder runs(there);
        if (const auto scale = source.codeScale(); scale && scale->step > 0) {
            CodeCounts counts(*scale);
            forCodeBlocks(source, mine, progress, [&](std::int64_t first, auto codes) {
                const auto [low, high] = counts.add(first, codes);
                runs.addCodes(first, codes, *scale, low, high);
            });
            counts.addTo(part.stats, part.histogram);
        } else {
            forBlocks(source, mine, progress, [&](std::int64_t first, std::span<const double> values) {
                const auto [low, high] = part.stats.add(first, values);
                part.histogram.add(values, low, high);
                runs.add(first, values, low, high);
            });
        }
        part.runs = runs.found();
    });
    AmplitudeSurvey all;
    for (std::size_t i = 0; i + 1 < firstChunks.size(); ++i) {
        AmplitudeSurvey some;
        for (std::size_t chunk = firstChunks[i]; chunk < firstChunks[i + 1]; ++chunk)
            chunk == firstChunks[i] ? void(some = std::move(found[chunk])) : some.merge(found[chunk]);
        all.merge(some);
        if (i > 0 && i < bounds.size()) all.stretches.push_back({some.stats, std::move(some.histogram)});
    }
    return all;
}

} // namespace fulvex
