// Phase noise, and the edges that it is of.

#include "crest_noise.h"
#include "evaluation.h"
#include "instant_errors.h"
#include "node_key.h"
#include "phase_noise_result.h"

#include <algorithm>

namespace fulvex {

Evaluation::ClockNode Evaluation::carrierClock(const MeasurementEntry &entry)
{
    if (!entry.clock.empty()) return clock(entry.clock);
    ClockEntry found;
    found.source = entry.source;
    found.levels = entry.levels;
    found.interpolate = entry.interpolate;
    return clock(found);
}

Evaluation::Node<JitterEdges> Evaluation::phaseEdges(const MeasurementEntry &entry)
{
    const ClockNode by = carrierClock(entry);
    const auto positions = positionsIn(entry.region, by.clock->map.axis());
    const std::string key = keyOf("phase edges", by.key, positions.first, positions.second);
    return {key, m_cache.get<JitterEdges>(key, [&] {
                return jitterEdges(*by.clock, by.levels ? by.levels->levels.size() : 2, positions, {}, m_progress);
            })};
}

Evaluation::Node<PhaseNoise> Evaluation::phaseNoise(const MeasurementEntry &entry)
{
    const Node<JitterEdges> edges = phaseEdges(entry);
    const std::string key = keyOf("phase noise", edges.key);
    return {key, m_cache.get<PhaseNoise>(key, [&] { return phaseNoiseOf(*edges.value, m_progress); })};
}

std::optional<double> Evaluation::phaseNoiseFloor(const MeasurementEntry &entry, const PhaseNoise &found,
                                                  double unitInterval)
{
    const ClockNode by = carrierClock(entry);
    const std::string source = entry.clock.empty() ? entry.source : findEntry(m_document.clocks, entry.clock)->source;
    const SourcePtr samples = channel(source).source;
    const EdgeList &edges = by.clock->edges.edges();
    double ofSamples = *noise(source, entry.region).value;
    if (const auto ofCrests = crestNoise(samples, edges)) ofSamples = std::min(ofSamples, *ofCrests);
    const bool bySinc = edges.interpolatedBySinc;
    const InstantErrors errors = instantErrors(*samples, somePlaces(edges, true), bySinc, ofSamples);
    if (!(errors.slope > 0) || !(ofSamples > 0)) return {};
    return levelOfInstants(found.carrier, unitInterval,
                           instantNoise(ofSamples, errors.slope, bySinc) * samples->axis().interval);
}

PhaseNoiseResult Evaluation::phaseNoise(const PhaseNoiseEntry &entry)
{
    MeasurementEntry as;
    as.source = entry.source;
    as.clock = entry.clock;
    as.region = entry.region;
    as.levels = entry.levels;
    PhaseNoiseResult result;
    result.by = carrierClock(as).clock;
    const Node<JitterEdges> edges = phaseEdges(as);
    result.edges = edges.value;
    result.found = phaseNoise(as).value;
    if (!result.found->reason.empty()) throw Unmeasurable{result.found->reason};
    result.stability = m_cache.get<ClockStability>(keyOf("stability", edges.key),
                                                   [&] { return stabilityOf(*edges.value, m_progress); });
    result.floor = phaseNoiseFloor(as, *result.found, edges.value->unitInterval);
    integrate(result, entry);
    return result;
}

} // namespace fulvex
