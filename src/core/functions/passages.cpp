#include "passages.h"

#include "amplitude_survey.h"
#include "edge_finder.h"
#include "reference_levels.h"

namespace fulvex {

Passages risingPassages(const SampleSource &source, Progress &progress)
{
    const SampleRange all{0, source.axis().count};
    const AmplitudeSurvey survey = surveyAmplitudes(source, all, progress, false);
    if (survey.stats.count == 0) return {};
    const ReferenceLevels levels = referenceLevels(survey, {});
    if (!(levels.states.amplitude() > 0)) return {};
    const EdgeList edges = findEdges(source, all, levels, EdgeInterpolation::instants, progress);
    Passages found;
    bool gap = false;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        gap = gap || edges.isAfterGap(i);
        if (!edges.isRising(i)) continue;
        found.positions.push_back(edges.positions[i]);
        found.afterGap.push_back(gap && found.positions.size() > 1);
        gap = false;
    }
    return found;
}

} // namespace fulvex
