#include "clock_recovery.h"

#include "core_loop.h"
#include "same_everywhere.h"

#include <algorithm>
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

/// y' = w + g e, w' = k e, e = x - y, per unit interval, by the trapezoidal rule. From one edge to the next the loop is
/// linear in its state and in the phase, which runs straight between edges; the map for a run of unit intervals is
/// found once by running unit inputs through it.
class Loop {
public:
    typedef double Pair __attribute__((vector_size(16))); ///< of the followed phase and its change, both at once
    struct State {
        Pair at;  ///< followed phase, its change per unit interval; unit intervals
        double x; ///< phase of the last edge, unit intervals
        double followed() const { return at[0]; }
        bool meets(const State &other) const
        {
            return std::abs(at[0] - other.at[0]) < 1e-9 && std::abs(at[1] - other.at[1]) < 1e-9;
        }
    };
    Loop(double g, double k, Progress &progress) : m_k(k), m_c(g / 2 + k / 4), m_progress(progress)
    {
        for (int steps = 1; steps <= 64; ++steps)
            m_table.push_back({run(steps, Pair{1, 0}, 0, 0), run(steps, Pair{0, 1}, 0, 0), run(steps, Pair{0, 0}, 1, 0),
                               run(steps, Pair{0, 0}, 0, 1)});
    }
    /// To the next edge, `steps` unit intervals on, at phase x. Of two edges in one interval the first counts.
    void advance(State &state, std::int64_t steps, double x) const
    {
        if (steps <= 0) return;
        if (steps >= std::int64_t(m_table.size())) {
            state.at = run(steps, state.at, state.x, x);
        } else {
            const Step &s = m_table[std::size_t(steps)];
            const Pair drive = s.from * state.x + s.to * x;
            state.at = s.phase * state.at[0] + s.change * state.at[1] + drive;
        }
        state.x = x;
    }

private:
    struct Step {
        Pair phase, change, from, to; ///< what each does to the state
    };
    Pair run(std::int64_t steps, Pair state, double from, double to) const
    {
        double x = from, y = state[0], w = state[1];
        for (std::int64_t step = 0; step < steps; ++step) {
            if (step % 65536 == 65535) m_progress.advance(0); // a long time without an edge
            const double error = x - y;
            x += (to - from) / double(steps);
            y = (y + w + m_c * (error + x)) / (1 + m_c);
            w += m_k / 2 * (error + x - y);
        }
        return Pair{y, w};
    }
    double m_k, m_c;
    Progress &m_progress;
    std::vector<Step> m_table{1};
};

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
    const Loop loop(g, k, progress);
    const auto lateAt = [&, inverse = 1 / base](std::size_t i) {
        return (edges->positions[i] - offset) * inverse - double(timing->numbers[i]);
    };
    RawVector<double> followed(edges->size());
    progress.expect(double(edges->size()));
    const auto follow = [&](std::size_t first, std::size_t last, Loop::State state, double *out) {
        for (std::size_t i = first; i < last; ++i) {
            if (i % 4096 == 0) progress.advance(0);
            loop.advance(state, i == 0 ? 0 : timing->numbers[i] - timing->numbers[i - 1], lateAt(i));
            if (out) out[i] = state.followed();
        }
        if (out) progress.advance(double(last - first));
        return state;
    };
    // Two chunks by turns: each waits for its own last step.
    const auto followBoth = [&](std::size_t first, std::size_t second, std::size_t count, Loop::State &a,
                                Loop::State &b) {
        Loop::State one = a, other = b;
        for (std::size_t at = 0; at < count; ++at) {
            if (at % 4096 == 0) progress.advance(0);
            const std::size_t i = first + at, j = second + at;
            loop.advance(one, timing->numbers[i] - timing->numbers[i - 1], lateAt(i));
            followed[i] = one.followed();
            loop.advance(other, timing->numbers[j] - timing->numbers[j - 1], lateAt(j));
            followed[j] = other.followed();
        }
        a = one;
        b = other;
        progress.advance(double(2 * count));
    };
    const auto begin = [&](std::size_t edge) {
        return Loop::State{Loop::Pair{rule.order == 1 && edge == 0 ? 0 : lateAt(edge), 0}, lateAt(edge)};
    };
    // Chunks run side by side, each warmed up until what it began with has died away to less than a double shows; the
    // states at the seams tell. Loops slower than that allows, and seams that do not meet, run on from the chunk
    // before.
    constexpr double decay = 36; // exp(-36): 2e-16
    constexpr std::size_t perChunk = 1 << 17;
    const double z = rule.damping, slowest = rule.order == 1 ? wn : z > 1 ? wn * (z - std::sqrt(z * z - 1)) : wn * z;
    const double forget = decay / slowest; // unit intervals
    struct Chunk {
        Loop::State begin, end;
    };
    std::vector<Chunk> chunks((edges->size() + perChunk - 1) / perChunk);
    const bool sideBySide = forget < perChunk / 2;
    const auto run = [&](std::size_t index, Loop::State state) {
        const std::size_t first = index * perChunk;
        chunks[index] = {state, follow(first, std::min(edges->size(), first + perChunk), state, followed.data())};
    };
    if (sideBySide) {
        const auto warmedUp = [&](std::size_t index) {
            const std::size_t first = index * perChunk;
            std::size_t warm = first;
            while (warm > 0 && double(timing->numbers[first] - timing->numbers[warm]) < forget)
                warm -= std::min<std::size_t>(warm, 1024);
            return follow(warm, first, begin(warm), nullptr);
        };
        // The first has nothing before it, the last may be shorter.
        const std::size_t pairs = chunks.size() > 4 ? (chunks.size() - 2) / 2 : 0;
        onAllCores(std::int64_t(chunks.size() - pairs), [&](std::int64_t at) {
            const auto place = std::size_t(at);
            if (place >= pairs) {
                const std::size_t index = place == pairs ? 0 : place + pairs;
                return run(index, warmedUp(index));
            }
            const std::size_t index = 1 + 2 * place;
            Chunk &one = chunks[index], &other = chunks[index + 1];
            one.begin = one.end = warmedUp(index);
            other.begin = other.end = warmedUp(index + 1);
            followBoth(index * perChunk, (index + 1) * perChunk, perChunk, one.end, other.end);
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
