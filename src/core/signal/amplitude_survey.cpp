#include "amplitude_survey.h"

#include "jackknife.h"
#include "parallel.h"

#include <algorithm>
#include <array>

namespace fulvex {

void AmplitudeSurvey::merge(const AmplitudeSurvey &later)
{
    stats.merge(later.stats);
    histogram.merge(later.histogram);
    runs.merge(later.runs);
    stretches.insert(stretches.end(), later.stretches.begin(), later.stretches.end());
}

AmplitudeSurvey surveyAmplitudes(const SampleSource &source, SampleRange range, Progress &progress, bool withStretches)
{
    constexpr std::int64_t parts = 256;    // each with a histogram of its own
    constexpr std::int64_t shortest = 512; // samples of a stretch: for the work of its histogram
    const auto stretches =
        withStretches ? std::clamp<std::int64_t>(range.size() / shortest, jackknifeParts / 2, jackknifeParts) : 1;
    const std::int64_t each = (range.size() + stretches - 1) / stretches;
    const std::int64_t chunk = std::min(std::max(defaultChunk, range.size() / parts), each);
    const auto found = inChunks<AmplitudeSurvey>(range, chunk, progress, [&](SampleRange mine, AmplitudeSurvey &part) {
        std::array<double, 3> before;
        const auto there = std::span(before).first(std::size_t(std::min<std::int64_t>(3, mine.first - range.first)));
        source.read(mine.first - std::int64_t(there.size()), there);
        ExtremeRunFinder runs(there);
        forBlocks(source, mine, progress, [&](std::int64_t first, std::span<const double> values) {
            const auto [low, high] = part.stats.add(first, values);
            part.histogram.add(values, low, high);
            runs.add(first, values, low, high);
        });
        part.runs = runs.found();
    });
    AmplitudeSurvey all;
    const auto count = std::int64_t(found.size()), made = std::min(stretches, count);
    for (std::int64_t stretch = 0; stretch < made; ++stretch) {
        AmplitudeSurvey some;
        for (std::int64_t i = stretch * count / made; i < (stretch + 1) * count / made; ++i)
            some.merge(found[std::size_t(i)]);
        if (withStretches) some.stretches.push_back({some.stats, some.histogram});
        all.merge(some);
    }
    return all;
}

} // namespace fulvex
