#include "amplitude_survey.h"

#include "parallel.h"

#include <algorithm>
#include <array>

namespace fulvex {

void AmplitudeSurvey::merge(const AmplitudeSurvey &later)
{
    stats.merge(later.stats);
    histogram.merge(later.histogram);
    runs.merge(later.runs);
}

AmplitudeSurvey surveyAmplitudes(const SampleSource &source, SampleRange range, Progress &progress)
{
    constexpr std::int64_t parts = 256; // each with a histogram of its own
    const std::int64_t chunk = std::max(defaultChunk, range.size() / parts);
    return inChunksMerged<AmplitudeSurvey>(range, chunk, progress, [&](SampleRange mine, AmplitudeSurvey &part) {
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
}

} // namespace fulvex
