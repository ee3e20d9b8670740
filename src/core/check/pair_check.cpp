#include "pair_check.h"

#include "edge_finder.h"
#include "edge_pairs.h"
#include "number_text.h"
#include "transition_finder.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

struct Leg {
    ReferenceLevels levels;
    EdgeList edges;
};

Leg legOf(const CheckedChannel &channel, Progress &progress)
{
    const SampleRange range{0, std::min(std::int64_t(1) << 22, channel.source->axis().count)};
    Leg leg;
    leg.levels = referenceLevels(*channel.survey, LevelRule{});
    leg.edges = findEdges(*channel.source, range, leg.levels, EdgeInterpolation::automatic, progress);
    return leg;
}

} // namespace

std::optional<LegMatch> matchLegs(const CheckedChannel &first, const CheckedChannel &second, Progress &progress)
{
    for (const CheckedChannel *channel : {&first, &second}) {
        const AmplitudeStats &stats = channel->survey->stats;
        if (stats.count == 0 || !(stats.maximum > stats.minimum)) return {};
    }
    const Leg a = legOf(first, progress), b = legOf(second, progress);
    const TimeAxis &axisA = first.source->axis(), &axisB = second.source->axis();
    const double near = medianInterval(a.edges) * axisA.interval / 4;
    const EdgePairs pairs = pairEdges(a.edges, axisA, b.edges, axisB, {.opposite = true, .lag = 0, .within = near});
    if (pairs.count < 8 || 4 * pairs.count < 3 * a.edges.size()) return {};
    LegMatch match;
    match.edges = pairs.count;
    match.skew = pairs.lag;
    match.skewUncertainty = pairs.uncertainty;
    match.amplitudeRatio = a.levels.states.amplitude() / b.levels.states.amplitude();
    match.common = b.levels.mid - a.levels.mid;
    match.transition = medianTransitionSamples(*first.source, a.edges, a.levels) * axisA.interval;
    return match;
}

std::vector<Finding> checkPair(const CheckedChannel &first, const CheckedChannel &second, Progress &progress)
{
    const auto match = matchLegs(first, second, progress);
    std::vector<Finding> findings;
    if (!match) return findings;
    const std::string legs = first.id + " and " + second.id;
    const TimeAxis &axis = first.source->axis();
    if (std::abs(match->skew) > std::max(3 * match->skewUncertainty, 0.05 * match->transition)) {
        const std::string amount = quantityText(-match->skew, "s", match->skewUncertainty);
        findings.push_back(
            {"skew", "warning",
             second.id + " comes " + quantityWithUncertainty(std::abs(match->skew), "s", match->skewUncertainty) +
                 (match->skew > 0 ? " after " : " before ") + first.id +
                 ": their difference has slower edges with a step, and its crossings move",
             second.id, axis.start, axis.start + 40 * match->transition,
             Remedy{Remedy::Kind::delay, second.id, -match->skew, 0, 0, "deskew " + second.id + " by " + amount}});
    }
    if (std::abs(match->amplitudeRatio - 1) > 0.05) {
        findings.push_back(
            {"amplitude_mismatch",
             "warning",
             "the amplitudes of " + legs + " differ by " + percentText(std::abs(match->amplitudeRatio - 1)) +
                 ": common-mode disturbance does not cancel in their difference; a probe's factor may be wrong",
             second.id,
             {},
             {},
             Remedy{Remedy::Kind::scale, second.id, match->amplitudeRatio, 0, 0,
                    "scale " + second.id + " by " + fixedText(match->amplitudeRatio, 4)}});
    }
    const double amplitude = first.survey->stats.maximum - first.survey->stats.minimum;
    if (std::abs(match->common) > 0.25 * amplitude) {
        findings.push_back({"offset_mismatch",
                            "info",
                            "the middles of " + legs + " lie " + quantityText(match->common, first.unit) +
                                " apart: their difference is off zero by as much",
                            second.id,
                            {},
                            {},
                            Remedy{Remedy::Kind::offset, second.id, -match->common, 0, 0,
                                   "shift " + second.id + " by " + quantityText(-match->common, first.unit)}});
    }
    return findings;
}

} // namespace fulvex
