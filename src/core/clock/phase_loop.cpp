#include "phase_loop.h"

#include <algorithm>
#include <utility>

namespace fulvex {

namespace {

constexpr std::size_t betweenLooks = 4096; ///< edges, after which it is asked whether to go on

} // namespace

PhaseLoop::PhaseLoop(double g, double k, LatenessOnLine late, Progress &progress)
    : m_k(k), m_c(g / 2 + k / 4), m_late(late), m_progress(progress)
{
    for (std::int32_t steps = 1; steps <= longest; ++steps)
        m_table[std::size_t(steps)] = {run(steps, Pair{1, 0}, 0, 0), run(steps, Pair{0, 1}, 0, 0),
                                       run(steps, Pair{0, 0}, 1, 0), run(steps, Pair{0, 0}, 0, 1)};
}

PhaseLoop::Pair PhaseLoop::run(std::int64_t steps, Pair state, double from, double to) const
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

/// To the next edge, `steps` unit intervals on, at phase x. Of two edges in one interval the first counts.
inline PhaseLoop::State PhaseLoop::advanced(State state, std::int32_t steps, double x) const
{
    if (steps <= 0) return state;
    if (steps > longest) [[unlikely]]
        return {run(steps, state.at, state.x, x), x};
    const Step &s = m_table[std::size_t(steps)];
    const Pair drive = s.from * state.x + s.to * x;
    return {s.phase * state.at[0] + s.change * state.at[1] + drive, x};
}

PhaseLoop::State PhaseLoop::follow(SampleRange edges, State state, double *out) const
{
    const LatenessOnLine late = m_late;
    for (auto i = std::size_t(edges.first); i < std::size_t(edges.last); ++i) {
        if (i % betweenLooks == 0) m_progress.advance(0);
        state = advanced(state, i == 0 ? 0 : late.stepsTo(i), late.at(i));
        if (out) out[i] = state.followed();
    }
    return state;
}

PhaseLoop::States PhaseLoop::followTogether(const std::array<std::size_t, together> &places, std::size_t count,
                                            States states, double *out) const
{
    // By constant indices and given back by value, so that states stay in registers.
    const auto each = [ this, out, count, &places, &states ]<std::size_t... c>(std::index_sequence<c...>)
    {
        const LatenessOnLine late = m_late;
        const std::array begins{places[c]...};
        std::array own{states[c]...};
        for (std::size_t at = 0; at < count; ++at) {
            if (at % betweenLooks == 0) m_progress.advance(0);
            ((own[c] = advanced(own[c], late.stepsTo(begins[c] + at), late.at(begins[c] + at))), ...);
            if (out) ((out[begins[c] + at] = own[c].followed()), ...);
        }
        return States{own[c]...};
    };
    return each(std::make_index_sequence<together>());
}

} // namespace fulvex
