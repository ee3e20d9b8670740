#include "pulse_shape.h"

#include "crossing_refiner.h"
#include "edge_finder.h"
#include "parallel.h"
#include "sample_window.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace fulvex {

namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();
constexpr std::int64_t together = 1 << 14; ///< edges a core takes at a time

/// `add(window, edge, builder)` for all edges in parts on all cores; what they built, in order.
template <typename Add>
Population overEdges(const SampleSource &source, const EdgeList &edges, Progress &progress, const Add &add)
{
    auto parts = inChunks<PopulationBuilder>(
        {0, std::int64_t(edges.size())}, together, progress, [&](SampleRange mine, PopulationBuilder &part) {
            SampleWindow window(source, &progress);
            part = PopulationBuilder(source.axis());
            for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) add(window, edge, part);
            source.release(edges.samplesOf(mine));
        });
    PopulationBuilder all(source.axis());
    for (PopulationBuilder &part : parts) all.append(part.take());
    return all.take();
}

/// The farthest value among samples first to last, up or down, up to the first gap; NaN where there is none.
double farthest(SampleWindow &window, std::int64_t first, std::int64_t last, bool up, bool forward)
{
    double best = nan;
    for (std::int64_t i = forward ? first : last; forward ? i <= last : i >= first; i += forward ? 1 : -1) {
        const double v = window.at(i);
        if (!(v == v)) break;
        if (!(up ? v <= best : v >= best)) best = v;
    }
    return best;
}

bool hasPulse(const EdgeList &edges, std::size_t edge)
{
    return edge + 1 < edges.size() && !edges.isAfterGap(edge + 1);
}

} // namespace

Aberrations findAberrations(const SampleSource &source, SampleRange range, const EdgeList &edges,
                            const Transitions &transitions, const ReferenceLevels &levels, Progress &progress)
{
    constexpr double reach = 3; // transition durations
    const double percent = 100 / levels.states.amplitude();
    const std::size_t count = transitions.size();
    Aberrations found;
    found.overshoot.resize(count);
    found.preshoot.resize(count);
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(count)}, together, progress, [&](SampleRange mine, Nothing &) {
        SampleWindow window(source, &progress);
        const auto &mids = edges.positions;
        auto edge = std::size_t(
            std::lower_bound(mids.begin(), mids.end(), transitions.starts[std::size_t(mine.first)]) - mids.begin());
        for (auto k = std::size_t(mine.first); k < std::size_t(mine.last); ++k) {
            const double start = transitions.starts[k], lasts = transitions.durations[k], stop = start + lasts;
            while (edge < mids.size() && mids[edge] < start) ++edge;
            double from = std::max(double(range.first), start - reach * lasts),
                   to = std::min(double(range.last - 1), stop + reach * lasts);
            if (edge > 0) from = std::max(from, (mids[edge - 1] + mids[edge]) / 2);
            if (edge + 1 < mids.size()) to = std::min(to, (mids[edge] + mids[edge + 1]) / 2);
            const bool rising = transitions.rising[k];
            const auto first = std::int64_t(std::ceil(from)), before = std::int64_t(std::floor(start));
            const auto after = std::int64_t(std::ceil(stop)), last = std::int64_t(std::floor(to));
            const StateLevels &states = levels.states;
            const double beyond = farthest(window, after, last, rising, true),
                         ahead = farthest(window, first, before, !rising, false);
            found.overshoot[k] = percent * (rising ? beyond - states.high : states.low - beyond);
            found.preshoot[k] = percent * (rising ? states.low - ahead : ahead - states.high);
        }
        source.release({std::int64_t(transitions.starts[std::size_t(mine.first)]),
                        std::int64_t(transitions.starts[std::size_t(mine.last - 1)])});
    });
    return found;
}

Population aberrationsOf(const std::shared_ptr<const Transitions> &transitions, const TimeAxis &axis,
                         const std::shared_ptr<const RawVector<double>> &values)
{
    const bool all = std::none_of(values->begin(), values->end(), [](double v) { return v != v; });
    if (all) {
        const auto viewOf = [&](const auto &owner, const auto &numbers) {
            return Column::view(owner, numbers.data(), numbers.size());
        };
        return {axis, viewOf(transitions, transitions->starts), viewOf(transitions, transitions->durations),
                viewOf(values, *values)};
    }
    PopulationBuilder found(axis);
    for (std::size_t k = 0; k < values->size(); ++k) {
        const double value = (*values)[k];
        if (value == value) found.add(transitions->starts[k], transitions->durations[k], value);
    }
    return found.take();
}

namespace {

/// Where the band around the state that an edge leads to is looked for the last time: before the next transition
/// leaves it, or at the end of the range or before a gap.
std::optional<std::int64_t> searchEnd(SampleWindow &window, SampleRange range, const EdgeList &edges, std::size_t edge,
                                      const ReferenceLevels &levels)
{
    const double mid = edges.positions[edge];
    if (!hasPulse(edges, edge)) {
        const double limit = edge + 1 < edges.size() ? edges.positions[edge + 1] : double(range.last - 1);
        auto last = std::int64_t(std::ceil(mid));
        while (last + 1 <= std::int64_t(limit) && window.at(last + 1) == window.at(last + 1)) ++last;
        return last;
    }
    const bool rising = edges.isRising(edge);
    const double next = edges.positions[edge + 1], level = rising ? levels.high : levels.low;
    auto last = std::int64_t(std::floor(next));
    while (double(last) > mid && (rising ? window.at(last) < level : window.at(last) > level)) --last;
    // From the level to the mid a straight line takes (level - mid) of the amplitude.
    const double share = std::abs(level - levels.mid) / levels.states.amplitude();
    const double whole = share > 0 ? (next - double(last)) / share : 0;
    const auto end =
        std::int64_t(std::floor(double(last) - whole * std::abs(levels.high - levels.low) / levels.states.amplitude()));
    return double(end) > mid ? std::optional(end) : std::nullopt;
}

} // namespace

Settling settlingTimes(const SampleSource &source, SampleRange range, const EdgeList &edges,
                       const ReferenceLevels &levels, double band, EdgeChoice choice, Progress &progress)
{
    Settling settling;
    std::atomic<std::size_t> unsettled = 0;
    const double half = band / 100 * levels.states.amplitude();
    settling.population =
        overEdges(source, edges, progress, [&](SampleWindow &window, std::size_t edge, PopulationBuilder &found) {
            if (!chosen(choice, edges.isRising(edge))) return;
            const double mid = edges.positions[edge],
                         state = edges.isRising(edge) ? levels.states.high : levels.states.low;
            const auto end = searchEnd(window, range, edges, edge, levels);
            const auto outside = [&](std::int64_t i) { return std::abs(window.at(i) - state) > half; };
            if (!end || outside(*end)) {
                ++unsettled;
                return;
            }
            std::int64_t i = *end;
            while (double(i - 1) > mid && !outside(i - 1)) --i;
            // Sample i is in the band, and the one before, or the mid crossing itself, is not.
            const bool fromSample = double(i - 1) > mid;
            const double before = fromSample ? double(i - 1) : mid, was = fromSample ? window.at(i - 1) : levels.mid,
                         is = window.at(i);
            const double border = was > state ? state + half : state - half;
            const double entry = before + (double(i) - before) * (is == was ? 1 : (border - was) / (is - was));
            found.add(mid, entry - mid, (entry - mid) * source.axis().interval);
        });
    settling.unsettled = unsettled;
    return settling;
}

Population peakTimes(const SampleSource &source, const EdgeList &edges, EdgeChoice choice, Progress &progress)
{
    return overEdges(source, edges, progress, [&](SampleWindow &window, std::size_t edge, PopulationBuilder &found) {
        const bool up = edges.isRising(edge);
        if (!chosen(choice, up) || !hasPulse(edges, edge)) return;
        const double mid = edges.positions[edge];
        const auto last = std::int64_t(std::floor(edges.positions[edge + 1]));
        std::int64_t peak = -1;
        double best = nan;
        for (auto i = std::int64_t(std::ceil(mid)); i <= last; ++i) {
            const double v = window.at(i);
            if (!(up ? v <= best : v >= best)) best = v, peak = i;
        }
        if (peak < 0) return; // no sample between the two crossings
        double at = double(peak);
        if (peak > 0 && peak + 1 < window.count()) {
            const double left = window.at(peak - 1), right = window.at(peak + 1), bend = left - 2 * best + right;
            if (bend != 0 && std::abs(left - right) <= std::abs(bend)) at += 0.5 * (left - right) / bend;
        }
        found.add(mid, at - mid, (at - mid) * source.axis().interval);
    });
}

Population pulseAreas(const SampleSource &source, const EdgeList &edges, const Transitions &transitions,
                      const ReferenceLevels &levels, EdgeChoice choice, Progress &progress)
{
    const auto &starts = transitions.starts;
    /// The transition through a mid crossing, if it is complete.
    const auto through = [&](std::size_t edge) -> std::optional<std::size_t> {
        const double mid = edges.positions[edge];
        const auto k = std::size_t(std::upper_bound(starts.begin(), starts.end(), mid) - starts.begin());
        if (k == 0 || starts[k - 1] + transitions.durations[k - 1] < mid) return {};
        return k - 1;
    };
    return overEdges(source, edges, progress, [&](SampleWindow &window, std::size_t edge, PopulationBuilder &found) {
        const bool up = edges.isRising(edge);
        if (!chosen(choice, up) || !hasPulse(edges, edge)) return;
        const auto opening = through(edge), closing = through(edge + 1);
        if (!opening || !closing) return;
        const double base = up ? levels.states.low : levels.states.high, level = up ? levels.low : levels.high;
        const double from = starts[*opening], to = starts[*closing] + transitions.durations[*closing];
        // By trapezoids, the outer two from and to the passages of the level.
        double area = 0, before = from, was = level - base;
        for (auto i = std::int64_t(std::floor(from)) + 1; double(i) < to; ++i) {
            const double v = window.at(i) - base;
            area += (double(i) - before) * (v + was) / 2;
            before = double(i), was = v;
        }
        area += (to - before) * (level - base + was) / 2;
        if (area == area) found.add(from, to - from, area * source.axis().interval);
    });
}

Population slopesAtMid(const SampleSource &source, const std::shared_ptr<const EdgeList> &edges, EdgeChoice choice,
                       std::int64_t reach, Progress &progress)
{
    return overEdges(source, *edges, progress, [&](SampleWindow &window, std::size_t edge, PopulationBuilder &found) {
        if (!chosen(choice, edges->isRising(edge))) return;
        const double at = edges->positions[edge];
        const auto left = std::clamp<std::int64_t>(std::int64_t(std::floor(at)), 0, window.count() - 2);
        const std::int64_t far = reach > 1 ? 2 * reach : 1;
        if (left + 1 - far < 0 || left + far >= window.count()) return;
        const auto chord = [&](std::int64_t to) {
            return (window.at(left + to) - window.at(left + 1 - to)) / double(2 * to - 1);
        };
        double slope = chord(reach);
        if (reach > 1) {
            const double wider = double(2 * far - 1) / double(2 * reach - 1);
            slope += (slope - chord(far)) / (wider * wider - 1);
        }
        if (edges->interpolatedBySinc) slope = refinedSlope(window, at).value_or(slope);
        if (slope == slope) found.add(at, 0, slope / source.axis().interval);
    });
}

Population runtPulses(const SampleSource &source, SampleRange range, const EdgeList &edges,
                      const ReferenceLevels &levels, bool rising, Progress &progress)
{
    const StateLevels &states = levels.states;
    const double level = rising ? levels.low : levels.high;
    const EdgeList passages = findLinearEdges(source, range, crossingLevel(level, levels.hysteresis), progress);
    const auto &mids = edges.positions;
    return overEdges(
        source, passages, progress, [&](SampleWindow &window, std::size_t passage, PopulationBuilder &found) {
            if (passages.isRising(passage) != rising || !hasPulse(passages, passage)) return;
            const double from = passages.positions[passage], to = passages.positions[passage + 1];
            const auto mid = std::lower_bound(mids.begin(), mids.end(), from);
            if (mid != mids.end() && *mid <= to) return;
            const double top =
                farthest(window, std::int64_t(std::ceil(from)), std::int64_t(std::floor(to)), rising, true);
            if (top == top)
                found.add(from, to - from, 100 * (rising ? top - states.low : states.high - top) / states.amplitude());
        });
}

} // namespace fulvex
