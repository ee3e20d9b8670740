#include "clock_recovery.h"

#include "core_loop.h"
#include "phase_loop.h"
#include "same_everywhere.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <complex>
#include <numbers>

namespace fulvex {

namespace {

double bestOffset(const EdgeList &edges, const SymbolTiming &timing, double period)
{
    double sum = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) sum += edges.positions[i] - period * double(timing.numbers[i]);
    return sum / double(edges.size());
}

std::complex<double> transfer(const LoopRule &rule, double frequency)
{
    const double wn = rule.naturalFrequency();
    const std::complex<double> s(0, 2 * std::numbers::pi * frequency);
    if (rule.order == 1) return wn / (s + wn);
    const std::complex<double> top = 2 * rule.damping * wn * s + wn * wn;
    return top / (s * s + top);
}

Clock clockOf(UnitIntervalMap map, std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing)
{
    NumberedEdges numbered(std::move(edges), std::move(timing), map);
    return {std::move(map), std::move(numbered)};
}

} // namespace

double LoopRule::naturalFrequency() const
{
    const double w = 2 * std::numbers::pi * bandwidth;
    if (order == 1) return w; // the corner of 1 - H is the same
    const double z = damping;
    if (!ofError) {
        const double a = 1 + 2 * z * z;
        return w / std::sqrt(a + std::sqrt(a * a + 1));
    }
    // |1 - H|^2 = x^4 / ((1 - x^2)^2 + 4 z^2 x^2) = 1/2 at x = w / wn: x^4 + (2 - 4 z^2) x^2 - 1 = 0.
    const double b = 1 - 2 * z * z;
    return w / std::sqrt(-b + std::sqrt(b * b + 1));
}

double LoopRule::jitterTransfer(double frequency) const
{
    return std::abs(transfer(*this, frequency));
}

double LoopRule::errorTransfer(double frequency) const
{
    return std::abs(1.0 - transfer(*this, frequency));
}

Clock fixedClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                 std::optional<double> period)
{
    const double offset = period ? bestOffset(*edges, *timing, *period) : timing->offset;
    const double used = period.value_or(timing->period);
    return clockOf(UnitIntervalMap(axis, offset, used), std::move(edges), std::move(timing));
}

Clock loopClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                std::optional<double> period, const LoopRule &rule, Progress &progress)
{
    // A loop of order 2 ends at the true rate whatever it starts from; one of order 1 lags behind a wrong rate for
    // good.
    const double base = rule.order == 1 ? period.value_or(timing->period) : timing->period;
    const double offset = rule.order == 1 && period ? bestOffset(*edges, *timing, base) : timing->offset;

    // Per unit interval h: y' = w + g e, w' = k e, e = x - y, by the trapezoidal rule; the bandwidth is prewarped so
    // that the bilinear transform's bend of the frequency axis does not move it.
    const double rate = 1 / (base * axis.interval), corner = rule.bandwidth / rate;
    assert(corner <= highestCorner * (1 + 1e-9));
    LoopRule warped = rule;
    const auto [sine, cosine] = sinCosPi(corner);
    warped.bandwidth = sine / cosine / std::numbers::pi;
    const double wn = warped.naturalFrequency();
    const double g = rule.order == 1 ? wn : 2 * rule.damping * wn, k = rule.order == 1 ? 0 : wn * wn;
    const LatenessOnLine late{edges->positions.data(), timing->numbers.data(), offset, 1 / base};
    const PhaseLoop loop(g, k, late, progress);
    RawVector<double> followed(edges->size());
    progress.expect(double(edges->size()));
    const auto begin = [&](std::size_t edge) {
        return PhaseLoop::State{PhaseLoop::Pair{rule.order == 1 && edge == 0 ? 0 : late.at(edge), 0}, late.at(edge)};
    };
    // Chunks run side by side, each warmed up until what it began with has died away; the states at the seams tell.
    // Loops slower than that allows, and seams that do not meet, run on from the chunk before.
    constexpr double decay = 25; // exp(-25): 1e-11
    // No power of two: what is followed together does not fall on the same lines of a cache.
    constexpr std::size_t perChunk = 64 * 2049, together = PhaseLoop::together;
    const double z = rule.damping, slowest = rule.order == 1 ? wn : z > 1 ? wn * (z - std::sqrt(z * z - 1)) : wn * z;
    const double forget = decay / slowest; // unit intervals
    struct Chunk {
        PhaseLoop::State begin, end;
    };
    std::vector<Chunk> chunks((edges->size() + perChunk - 1) / perChunk);
    const bool sideBySide = forget < perChunk / 2;
    const auto rangeOf = [&](std::size_t index) {
        return SampleRange{std::int64_t(index * perChunk),
                           std::int64_t(std::min(edges->size(), (index + 1) * perChunk))};
    };
    const auto run = [&](std::size_t index, PhaseLoop::State state) {
        chunks[index] = {state, loop.follow(rangeOf(index), state, followed.data())};
        progress.advance(double(rangeOf(index).size()));
    };
    if (sideBySide) {
        const auto warmUpOf = [&](std::size_t index) { // edges
            const std::size_t first = index * perChunk;
            std::size_t warm = first;
            while (warm > 0 && double(timing->numbers[first] - timing->numbers[warm]) < forget)
                warm -= std::min<std::size_t>(warm, 1024);
            return first - warm;
        };
        const auto runOne = [&](std::size_t index) {
            const std::size_t first = index * perChunk, start = first - warmUpOf(index);
            run(index, loop.follow({std::int64_t(start), std::int64_t(first)}, begin(start), nullptr));
        };
        const auto runTogether = [&](std::size_t index) {
            std::size_t warm = 0;
            for (std::size_t c = 0; c < together; ++c) warm = std::max(warm, warmUpOf(index + c));
            warm = std::min(warm, index * perChunk - 1);
            std::array<std::size_t, together> places;
            PhaseLoop::States states;
            for (std::size_t c = 0; c < together; ++c) {
                places[c] = (index + c) * perChunk - warm;
                states[c] = begin(places[c]);
            }
            const PhaseLoop::States begins = loop.followTogether(places, warm, states, nullptr);
            for (std::size_t &place : places) place += warm;
            const PhaseLoop::States ends = loop.followTogether(places, perChunk, begins, followed.data());
            for (std::size_t c = 0; c < together; ++c) chunks[index + c] = {begins[c], ends[c]};
            progress.advance(double(together * perChunk));
        };
        // The first has nothing before it, the last may be shorter.
        const std::size_t groups = chunks.size() > 2 ? (chunks.size() - 2) / together : 0, grouped = groups * together;
        onAllCores(std::int64_t(groups + chunks.size() - grouped), [&](std::int64_t at) {
            const auto place = std::size_t(at);
            if (place < groups)
                runTogether(1 + together * place);
            else
                runOne(place == groups ? 0 : place - groups + grouped);
        });
    }
    for (std::size_t index = 0; index < chunks.size(); ++index) {
        if (!sideBySide || (index > 0 && !chunks[index].begin.meets(chunks[index - 1].end)))
            run(index, index == 0 ? begin(0) : chunks[index - 1].end);
    }
    const double settle =
        (edges->positions.empty() ? 0 : std::max(0.0, edges->positions[0])) * axis.interval + 3 / rule.bandwidth;
    UnitIntervalMap map(axis, offset, base, {timing, &timing->numbers}, std::move(followed), settle);
    return clockOf(std::move(map), std::move(edges), std::move(timing));
}

} // namespace fulvex
