#include "recursive_filter.h"

#include "over_time.h"
#include "parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

using State = FilterCascade::State;

/// Each piece of the record goes on from a state that is known of its first sample: so a block costs what its own
/// samples do, and is the same however it is cut. A scan finds how each piece ends that begins in silence; what it
/// begins with fades over it as over any, which the filter's response to its own state alone tells.
class RecursiveFilter final : public OverTime {
public:
    RecursiveFilter(const SourcePtr &argument, FilterCascade filter, Progress &progress)
        : OverTime(argument), m_filter(std::move(filter)), m_numbers(2 * m_filter.sections())
    {
        const std::int64_t count = axis().count, pieces = (count + piece - 1) / piece;
        std::vector<Ending> endings(static_cast<std::size_t>(pieces));
        const FilterCascade::Ending silent(m_filter, std::size_t(piece));
        struct Nothing {};
        constexpr std::int64_t some = piece * FilterCascade::together; // stays in a core's cache
        static_assert(defaultChunk % some == 0);
        inChunks<Nothing>({0, count}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
            for (std::int64_t first = mine.first; first < mine.last; first += some) {
                progress.advance(0);
                const std::int64_t length = std::min(some, mine.last - first);
                const auto own = values(first, length);
                for (std::int64_t at = 0; at + piece <= length; at += piece)
                    endings[std::size_t((first + at) / piece)] = endingOf(own.get() + at, silent);
            }
            release(mine);
        });
        // How a state fades over a piece.
        std::vector<State> fading(m_numbers);
        for (std::size_t k = 0; k < m_numbers; ++k) {
            std::vector<double> silence(std::size_t(piece), 0.0);
            fading[k][k] = 1;
            m_filter.run(silence, fading[k]);
        }
        m_starts.reserve(endings.size() * m_numbers);
        State now = fresh();
        for (const Ending &ending : endings) {
            m_starts.insert(m_starts.end(), now.begin(), now.begin() + std::ptrdiff_t(m_numbers));
            if (ending.broken) {
                now = ending.state;
                continue;
            }
            if (isFresh(now)) now = m_filter.settledAt(ending.first);
            State next = ending.state;
            for (std::size_t k = 0; k < m_numbers; ++k)
                for (std::size_t of = 0; of < m_numbers; ++of) next[k] += fading[of][k] * now[of];
            for (double &number : next)
                if (std::abs(number) < 1e-250) number = 0; // fades for ever otherwise, and slowly
            now = next;
        }
    }
    double readEffort() const override { return double(m_numbers) / 4 + 1.1 * OverTime::readEffort(); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size()), from = first / piece * piece;
        const auto own = values(from, last - from);
        std::vector<State> states(std::size_t((last - from + piece - 1) / piece));
        for (std::size_t i = 0; i < states.size(); ++i) {
            const auto start = m_starts.begin() + std::ptrdiff_t((std::size_t(from / piece) + i) * m_numbers);
            std::copy(start, start + std::ptrdiff_t(m_numbers), states[i].begin());
        }
        if (from == first) {
            filtered(own.get(), last - from, states, out.data());
            return;
        }
        std::vector<double> all(std::size_t(last - from));
        filtered(own.get(), last - from, states, all.data());
        std::copy(all.begin() + (first - from), all.end(), out.begin());
    }

private:
    static constexpr std::int64_t piece = 512;
    struct Ending {
        State state{};
        double first = 0;    ///< value
        bool broken = false; ///< by a gap: what it began with does not matter
    };
    /// Settles at the next value.
    static State fresh()
    {
        State state{};
        state[0] = nan;
        return state;
    }
    static bool isFresh(const State &state) { return state[0] != state[0]; }

    /// /// /// Of a whole piece that begins in silence.
    Ending endingOf(const double *samples, const FilterCascade::Ending &silent) const
    {
        Ending ending{silent.of(samples), *samples};
        if (isSound(ending.state)) return ending;
        std::vector<double> some(samples, samples + piece); // a gap, or beyond a double
        ending.state = {};
        ending.broken = acrossGaps(some, ending.state);
        return ending;
    }
    /// Filters pieces, the last one maybe shorter, each from its state.
    void filtered(const double *samples, std::int64_t count, std::vector<State> &states, double *results) const
    {
        std::vector<std::size_t> whole;
        const auto slowly = [&](std::size_t i) {
            const std::int64_t begin = std::int64_t(i) * piece, length = std::min(piece, count - begin);
            std::vector<double> some(samples + begin, samples + begin + length);
            acrossGaps(some, states[i]);
            for (std::size_t k = 0; k < some.size(); ++k) results[std::size_t(begin) + k] = finite(some[k]);
        };
        for (std::size_t i = 0; i < states.size(); ++i) {
            const double *at = samples + std::int64_t(i) * piece;
            if (count - std::int64_t(i) * piece < piece || (isFresh(states[i]) && *at != *at)) {
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
                pieces[lane] = samples + std::int64_t(i) * piece;
                to[lane] = done + lane < whole.size() ? results + std::int64_t(i) * piece : unused.data();
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
    bool isSound(const State &state) const
    {
        double sum = 0;
        for (std::size_t k = 0; k < m_numbers; ++k) sum += state[k] - state[k];
        return sum == 0;
    }
    /// One behind the other what lies between gaps; tells whether there were some.
    bool acrossGaps(std::span<double> samples, State &state) const
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

    FilterCascade m_filter;
    std::size_t m_numbers; ///< of a state

    std::vector<double> m_starts; ///< the state at the first sample of each piece
};

/// Last sample first.
class Reversed final : public OverTime {
public:
    using OverTime::OverTime;
    bool mayHaveGaps() const override { return argument().mayHaveGaps(); }
    double readEffort() const override { return argument().readEffort(); }
    void announce(SampleRange range) const override { argument().announce(turned(range)); }
    void release(SampleRange range) const override { argument().release(turned(range)); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        const std::int64_t last = first + std::int64_t(out.size());
        argument().read(turned({first, last}).first, out);
        std::reverse(out.begin(), out.end());
    }

private:
    SampleRange turned(SampleRange range) const { return {axis().count - range.last, axis().count - range.first}; }
};

} // namespace

SourcePtr recursivelyFiltered(const SourcePtr &source, const FilterCascade &filter, Progress &progress)
{
    return std::make_shared<RecursiveFilter>(source, filter, progress);
}

SourcePtr filteredBackward(const SourcePtr &source, const FilterCascade &filter, Progress &progress)
{
    return std::make_shared<Reversed>(recursivelyFiltered(std::make_shared<Reversed>(source), filter, progress));
}

} // namespace fulvex
