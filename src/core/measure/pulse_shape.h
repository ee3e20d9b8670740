#pragma once

#include "edge_list.h"
#include "population.h"
#include "progress.h"
#include "reference_levels.h"
#include "sample_source.h"
#include "transition_finder.h"

namespace fulvex {

/// What a pulse does beside its edges. All of it looks at samples, in parts, on all cores; nothing reaches across a
/// gap or out of the range; a cancel of `progress` ends it with Cancelled. Positions are samples, levels the source's
/// unit.

/// How far the signal goes beyond its state levels around each of some transitions, in % of the amplitude: positive
/// beyond the state (also below low), negative where it stays short of it. Looked for in three of the transition's
/// durations after (before) it, but no farther than half-way to the neighbouring mid crossing. NaN where no sample lies
/// there. Source: IEEE Std 181, overshoot and preshoot of a transition.
struct Aberrations {
    RawVector<double> overshoot, preshoot; ///< one for each transition
};
Aberrations findAberrations(const SampleSource &source, SampleRange range, const EdgeList &edges,
                            const Transitions &transitions, const ReferenceLevels &levels, Progress &progress);
/// Those of some transitions that are known.
Population aberrationsOf(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis,
                         const std::shared_ptr<const RawVector<double>> &values);

/// Time from each chosen mid crossing to the last entry into the state that it leads to, within `band` % of the
/// amplitude to either side, in s; the entry lies on the straight line between samples. The search ends where the next
/// transition leaves: as long before its first reference level as a straight line would take for all of it, or with the
/// range. Source: IEEE Std 181, settling duration.
struct Settling {
    Population population;
    std::size_t unsettled = 0; ///< never in the band at the end: left out
};
Settling settlingTimes(const SampleSource &source, SampleRange range, const EdgeList &edges,
                       const ReferenceLevels &levels, double band, EdgeChoice choice, Progress &progress);

/// Time from each chosen mid crossing to the farthest sample before the next one, in s, by the parabola through it and
/// its neighbours. The last edge has no pulse behind it.
Population peakTimes(const SampleSource &source, const EdgeList &edges, EdgeChoice choice, Progress &progress);

/// Area between the signal and the state that a pulse starts from (low for a rising edge), from its first passage of
/// the first reference level to its last one, in the unit times s; negative below high. Only pulses of which both
/// transitions are among `transitions` (both directions).
Population pulseAreas(const SampleSource &source, const EdgeList &edges, const Transitions &transitions,
                      const ReferenceLevels &levels, EdgeChoice choice, Progress &progress);

/// Slope at each chosen mid crossing, in the unit per s: of the straight line between the samples around it (`reach`
/// 1), of the cubic through those `reach` and twice as far on either side, or of the band-limited signal where the
/// edges are interpolated by sinc. Those that lie beside a gap or the record's ends are left out. Source: central
/// differences extrapolated (Richardson), Abramowitz, Stegun, "Handbook of Mathematical Functions", 25.3.
Population slopesAtMid(const SampleSource &source, const std::shared_ptr<const EdgeList> &edges, EdgeChoice choice,
                       std::int64_t reach, Progress &progress);

/// Pulses that leave a state by its reference level (with the levels' hysteresis) and come back to it without a mid
/// crossing; the value is how far they go, in % of the amplitude. Rising ones start from the low state.
/// Source: IEEE Std 181, runt pulse.
Population runtPulses(const SampleSource &source, SampleRange range, const EdgeList &edges,
                      const ReferenceLevels &levels, bool rising, Progress &progress);

} // namespace fulvex
