#include "transition_finder.h"

#include "crossing_refiner.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <utility>

namespace fulvex {

namespace {

struct Transition {
    double start, stop; ///< sample positions
    bool rising;
};

/// Walks from just beside `from` towards `limit` to the first sample beyond `level` and gives the passage of the level
/// on the straight line. Forward it looks for the first sample at or past the level, backward for the last one at or
/// before it, in the sense of the transition's direction.
std::optional<double> passage(SampleWindow &window, double from, std::int64_t limit, double level, bool rising,
                              bool forward)
{
    const double sign = rising ? 1 : -1;
    std::int64_t i = std::int64_t(forward ? std::ceil(from) : std::floor(from));
    const std::int64_t step = forward ? 1 : -1;
    for (; forward ? i <= limit : i >= limit; i += step) {
        const double v = window.at(i);
        if (!(v == v)) return {};
        const double beyond = sign * (v - level);
        if (forward ? beyond < 0 : beyond > 0) continue;
        if (beyond == 0) return double(i);
        const std::int64_t other = i - step; // on the mid crossing's side of the level
        if (other < 0 || other >= window.count()) return {};
        const double w = window.at(other);
        if (!(w == w) || w == v) return {};
        return double(i) + double(other - i) * (level - v) / (w - v);
    }
    return {};
}

/// `reach`: samples that are looked at to either side, at most.
std::optional<Transition> transitionAt(SampleWindow &window, SampleRange range, const EdgeList &edges, std::size_t edge,
                                       const ReferenceLevels &levels, std::int64_t reach = INT64_MAX / 2)
{
    const bool rising = edges.isRising(edge);
    const double mid = edges.positions[edge];
    std::int64_t from = edge > 0 ? std::int64_t(std::ceil(edges.positions[edge - 1])) : range.first;
    std::int64_t to = edge + 1 < edges.size() ? std::int64_t(std::floor(edges.positions[edge + 1])) : range.last - 1;
    const std::int64_t at = std::int64_t(mid);
    from = std::max(from, at - reach);
    to = std::min(to, at + reach);
    const auto start = passage(window, mid, from, rising ? levels.low : levels.high, rising, false);
    const auto stop = passage(window, mid, to, rising ? levels.high : levels.low, rising, true);
    if (!start || !stop) return {};
    return Transition{*start, *stop, rising};
}

/// The passages of one level among some transitions, by the sinc.
void refinePassages(SampleWindow &window, std::span<Transition> some, double Transition::*passage, bool rising,
                    double level)
{
    std::vector<double> positions;
    std::vector<std::uint8_t> flags;
    for (const Transition &one : some) {
        if (one.rising == rising) positions.push_back(one.*passage);
    }
    flags.resize(positions.size(), rising ? EdgeList::rising : 0);
    refineCrossings(window, level, positions, flags);
    auto refined = positions.begin();
    for (Transition &one : some) {
        if (one.rising == rising) one.*passage = *refined++;
    }
}

void refineTransitions(SampleWindow &window, std::span<Transition> some, const ReferenceLevels &levels)
{
    refinePassages(window, some, &Transition::start, true, levels.low);
    refinePassages(window, some, &Transition::stop, true, levels.high);
    refinePassages(window, some, &Transition::start, false, levels.high);
    refinePassages(window, some, &Transition::stop, false, levels.low);
}

} // namespace

Transitions findTransitions(const SampleSource &source, SampleRange range, const EdgeList &edges,
                            const ReferenceLevels &levels, EdgeChoice choice, Progress &progress)
{
    using Part = std::vector<Transition>;
    auto parts = inChunks<Part>({0, std::int64_t(edges.size())}, 1 << 15, progress, [&](SampleRange mine, Part &part) {
        SampleWindow window(source, &progress);
        constexpr std::size_t together = 64; // so few that the window still holds their samples
        std::size_t rough = 0;               // from here on the passages are those of straight lines
        const auto refine = [&] {
            if (edges.interpolatedBySinc) refineTransitions(window, std::span(part).subspan(rough), levels);
            rough = part.size();
        };
        for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) {
            if (!chosen(choice, edges.isRising(edge))) continue;
            if (const auto found = transitionAt(window, range, edges, edge, levels)) part.push_back(*found);
            if (part.size() - rough == together) refine();
        }
        refine();
        source.release(edges.samplesOf(mine));
    });
    std::vector<std::size_t> starts;
    std::size_t count = 0;
    for (const Part &part : parts) starts.push_back(std::exchange(count, count + part.size()));
    Transitions all;
    all.starts.resize(count);
    all.durations.resize(count);
    all.rising.resize(count);
    onAllCores(std::int64_t(parts.size()), [&](std::int64_t index) {
        std::size_t at = starts[std::size_t(index)];
        for (const Transition &one : std::exchange(parts[std::size_t(index)], {})) {
            all.starts[at] = one.start;
            all.durations[at] = one.stop - one.start;
            all.rising[at++] = one.rising;
        }
    });
    return all;
}

double medianTransitionSamples(const SampleSource &source, const EdgeList &edges, const ReferenceLevels &levels)
{
    SampleWindow window(source);
    const std::size_t step = std::max<std::size_t>(1, edges.size() / 500);
    std::vector<double> durations, bySlope; // where no symbol reaches both levels, the slope at the crossing tells
    const auto placeOf = [&](double position) {
        return std::clamp<std::int64_t>(std::int64_t(position), 0, window.count() - 2);
    };
    std::int64_t held = edges.size() ? placeOf(edges.positions.front()) : 0; // from here on pages were touched
    for (std::size_t edge = 0; edge < edges.size(); edge += step) {
        const std::int64_t left = placeOf(edges.positions[edge]);
        if (bySlope.size() % 64 == 63) {
            source.release({held, left});
            held = left;
        }
        bySlope.push_back((levels.high - levels.low) / std::abs(window.at(left + 1) - window.at(left)));
        const auto found = transitionAt(window, {0, source.axis().count}, edges, edge, levels, 4096);
        if (found) durations.push_back(found->stop - found->start);
    }
    if (edges.size()) source.release({held, placeOf(edges.positions.back())});
    if (durations.empty()) durations.swap(bySlope);
    if (durations.empty()) return std::numeric_limits<double>::infinity();
    const auto middle = durations.begin() + std::ptrdiff_t(durations.size() / 2);
    std::nth_element(durations.begin(), middle, durations.end());
    return *middle;
}

} // namespace fulvex
