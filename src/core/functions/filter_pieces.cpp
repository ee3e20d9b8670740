#include "filter_pieces.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fulvex {

static constexpr double gap = std::numeric_limits<double>::quiet_NaN();

FilterPieces::FilterPieces(FilterCascade filter)
    : m_filter(std::move(filter)), m_numbers(2 * m_filter.sections()), m_silent(m_filter, std::size_t(length)),
      m_fading(m_numbers)
{
    for (std::size_t k = 0; k < m_numbers; ++k) {
        std::vector<double> silence(std::size_t(length), 0.0);
        m_fading[k][k] = 1;
        m_filter.run(silence, m_fading[k]);
    }
}

FilterPieces::State FilterPieces::fresh()
{
    State state{};
    state[0] = gap;
    return state;
}

std::int64_t FilterPieces::piecesUntilFaded(double share, std::int64_t most) const
{
    std::vector<State> left = m_fading;
    for (std::int64_t pieces = 1; pieces <= most; ++pieces) {
        double largest = 0;
        for (const State &of : left)
            for (std::size_t k = 0; k < m_numbers; ++k) largest = std::max(largest, std::abs(of[k]));
        if (largest < share) return pieces;
        for (State &of : left) of = faded(of);
    }
    return most + 1;
}

/// After a piece of silence.
FilterPieces::State FilterPieces::faded(const State &now) const
{
    State next{};
    for (std::size_t k = 0; k < m_numbers; ++k)
        for (std::size_t of = 0; of < m_numbers; ++of) next[k] += m_fading[of][k] * now[of];
    return next;
}

void FilterPieces::goOn(State &now, const Ending &ending) const
{
    if (ending.broken) {
        now = ending.state;
        return;
    }
    if (isFresh(now)) now = m_filter.settledAt(ending.first);
    now = faded(now);
    for (std::size_t k = 0; k < m_numbers; ++k) {
        now[k] += ending.state[k];
        if (std::abs(now[k]) < 1e-250) now[k] = 0; // fades for ever otherwise, and slowly
    }
}

FilterPieces::Ending FilterPieces::endingOf(const double *samples) const
{
    Ending ending{m_silent.of(samples), *samples};
    if (isSound(ending.state)) return ending;
    std::vector<double> some(samples, samples + length); // a gap, or beyond a double
    ending.state = {};
    ending.broken = acrossGaps(some, ending.state);
    return ending;
}

void FilterPieces::filter(std::span<const double> samples, std::vector<State> &states, double *results) const
{
    constexpr std::size_t piece = length;
    std::vector<std::size_t> whole;
    const auto slowly = [&](std::size_t i) {
        const auto own = samples.subspan(i * piece, std::min(piece, samples.size() - i * piece));
        std::vector<double> some(own.begin(), own.end());
        acrossGaps(some, states[i]);
        std::replace_if(
            some.begin(), some.end(), [](double v) { return !std::isfinite(v); }, gap);
        std::copy(some.begin(), some.end(), results + i * piece);
    };
    for (std::size_t i = 0; i < states.size(); ++i) {
        const double *at = samples.data() + i * piece;
        if (samples.size() - i * piece < piece || (isFresh(states[i]) && *at != *at)) {
            slowly(i);
            continue;
        }
        if (isFresh(states[i])) states[i] = m_filter.settledAt(*at);
        whole.push_back(i);
    }
    constexpr std::size_t lanes = FilterCascade::together;
    for (std::size_t done = 0; done < whole.size(); done += lanes) {
        const double *pieces[lanes];
        double *to[lanes];
        State ends[lanes], *own[lanes];
        std::array<double, piece> unused;
        for (std::size_t lane = 0; lane < lanes; ++lane) { // those that are left over do the last one's work again
            const std::size_t i = whole[std::min(done + lane, whole.size() - 1)];
            pieces[lane] = samples.data() + i * piece;
            to[lane] = done + lane < whole.size() ? results + i * piece : unused.data();
            ends[lane] = states[i];
            own[lane] = &ends[lane];
        }
        m_filter.runTogether(pieces, piece, own, to);
        for (std::size_t lane = 0; lane < lanes && done + lane < whole.size(); ++lane) {
            // A gap, or beyond a double: whatever is no number stays in the state.
            if (!isSound(ends[lane])) slowly(whole[done + lane]);
        }
    }
}

void FilterPieces::filterFrom(std::int64_t first, std::span<const double> samples, std::vector<State> &states,
                              std::span<double> out) const
{
    const std::int64_t within = first % length;
    if (within == 0) {
        filter(samples, states, out.data());
        return;
    }
    std::vector<double> all(samples.size());
    filter(samples, states, all.data());
    std::copy(all.begin() + within, all.end(), out.begin());
}

bool FilterPieces::isSound(const State &state) const
{
    double sum = 0;
    for (std::size_t k = 0; k < m_numbers; ++k) sum += state[k] - state[k];
    return sum == 0;
}

/// One behind the other what lies between gaps; tells whether there were some.
bool FilterPieces::acrossGaps(std::span<double> samples, State &state) const
{
    const auto isGap = [](double v) { return v != v; };
    bool gaps = false;
    for (auto at = samples.begin(); at != samples.end();) {
        if (isGap(*at)) {
            state = fresh();
            gaps = true;
            ++at;
            continue;
        }
        const auto end = std::find_if(at, samples.end(), isGap);
        if (isFresh(state)) state = m_filter.settledAt(*at);
        m_filter.run({at, end}, state);
        at = end;
    }
    return gaps;
}

} // namespace fulvex
