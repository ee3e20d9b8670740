#include "transition_finder.h"

#include "crossing_refiner.h"
#include "middle.h"
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
    return Transition{*start, *stop};
}

/// Passages of one direction's levels, as found on straight lines up to some index, refined before it.
struct Found {
    std::vector<double> starts, stops;
    std::vector<std::uint8_t> flags; ///< of as many, all alike
    std::size_t refined = 0;
    explicit Found(bool up = false) : rising(up) {}
    bool rising;
    void add(const Transition &one)
    {
        starts.push_back(one.start);
        stops.push_back(one.stop);
        flags.push_back(rising ? EdgeList::rising : 0);
    }
    void reserve(std::size_t edges) ///< of both directions
    {
        starts.reserve(edges / 2 + 1);
        stops.reserve(edges / 2 + 1);
        flags.reserve(edges / 2 + 1);
    }
    void refine(SampleWindow &window, const ReferenceLevels &levels)
    {
        const auto fresh = [this](auto &all) { return std::span(all).subspan(refined); };
        refineCrossings(window, rising ? levels.low : levels.high, fresh(starts), fresh(flags));
        refineCrossings(window, rising ? levels.high : levels.low, fresh(stops), fresh(flags));
        refined = starts.size();
    }
};

struct Part {
    Found rising{true}, falling{false};
    std::vector<std::uint8_t> order; ///< whether each rises
};

/// What one direction's parts hold, behind each other.
Transitions joined(std::vector<Part> &parts, Found Part::*direction, bool rising)
{
    std::vector<std::size_t> firsts;
    std::size_t count = 0;
    for (const Part &part : parts) firsts.push_back(std::exchange(count, count + (part.*direction).starts.size()));
    Transitions all;
    all.starts.resize(count);
    all.durations.resize(count);
    all.rising.assign(count, rising);
    onAllCores(std::int64_t(parts.size()), [&](std::int64_t index) {
        std::size_t at = firsts[std::size_t(index)];
        const Found found = std::exchange(parts[std::size_t(index)].*direction, Found());
        for (std::size_t i = 0; i < found.starts.size(); ++i, ++at) {
            all.starts[at] = found.starts[i];
            all.durations[at] = found.stops[i] - found.starts[i];
        }
    });
    return all;
}

} // namespace

Transitions TransitionLists::inOrder() const
{
    Transitions all;
    all.starts.resize(order.size());
    all.durations.resize(order.size());
    all.rising.assign(order.begin(), order.end());
    std::size_t next[2] = {};
    for (std::size_t i = 0; i < order.size(); ++i) {
        const Transitions &from = order[i] ? rising : falling;
        const std::size_t k = next[order[i]]++;
        all.starts[i] = from.starts[k];
        all.durations[i] = from.durations[k];
    }
    return all;
}

TransitionLists findTransitionLists(const SampleSource &source, SampleRange range, const EdgeList &edges,
                                    const ReferenceLevels &levels, EdgeChoice choice, Progress &progress)
{
    auto parts = inChunks<Part>({0, std::int64_t(edges.size())}, 1 << 15, progress, [&](SampleRange mine, Part &part) {
        SampleWindow window(source, &progress);
        constexpr std::size_t together = 64; // so few that the window still holds their samples
        for (Found *found : {&part.rising, &part.falling}) found->reserve(std::size_t(mine.size()));
        part.order.reserve(std::size_t(mine.size()));
        for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) {
            const bool rising = edges.isRising(edge);
            if (!chosen(choice, rising)) continue;
            const auto one = transitionAt(window, range, edges, edge, levels);
            if (!one) continue;
            Found &found = rising ? part.rising : part.falling;
            found.add(*one);
            part.order.push_back(rising);
            if (edges.interpolatedBySinc && found.starts.size() - found.refined == together)
                found.refine(window, levels);
        }
        if (edges.interpolatedBySinc) {
            part.rising.refine(window, levels);
            part.falling.refine(window, levels);
        }
        source.release(edges.samplesOf(mine));
    });
    TransitionLists lists;
    for (const Part &part : parts) lists.order.insert(lists.order.end(), part.order.begin(), part.order.end());
    lists.rising = joined(parts, &Part::rising, true);
    lists.falling = joined(parts, &Part::falling, false);
    return lists;
}

Transitions findTransitions(const SampleSource &source, SampleRange range, const EdgeList &edges,
                            const ReferenceLevels &levels, EdgeChoice choice, Progress &progress)
{
    TransitionLists lists = findTransitionLists(source, range, edges, levels, choice, progress);
    if (choice == EdgeChoice::both) return lists.inOrder();
    return std::move(choice == EdgeChoice::rising ? lists.rising : lists.falling);
}

double medianTransitionSamples(const SampleSource &source, const EdgeList &edges, const ReferenceLevels &levels)
{
    SampleWindow window(source, nullptr, SampleWindow::Around::few);
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
    return middleOf(durations);
}

} // namespace fulvex
