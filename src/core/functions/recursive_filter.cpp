#include "recursive_filter.h"

#include "over_time.h"
#include "parallel.h"

#include <algorithm>
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
        : OverTime(argument), m_filter(std::move(filter)), m_numbers(2 * m_filter.sections()),
          m_gaps(argument->mayHaveGaps())
    {
        const std::int64_t count = axis().count, pieces = (count + piece - 1) / piece;
        std::vector<Ending> endings(static_cast<std::size_t>(pieces));
        struct Nothing {};
        constexpr std::int64_t some = piece * FilterCascade::together; // stays in a core's cache
        static_assert(defaultChunk % some == 0);
        inChunks<Nothing>({0, count}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
            for (std::int64_t first = mine.first; first < mine.last; first += some) {
                progress.advance(0);
                const std::int64_t length = std::min(some, mine.last - first);
                const auto own = values(first, length);
                std::vector<State> states(std::size_t((length + piece - 1) / piece));
                Ending *ending = endings.data() + first / piece;
                for (std::size_t i = 0; i < states.size(); ++i) ending[i].first = own[i * std::size_t(piece)];
                const std::vector<bool> broken = filtered(own.get(), length, states, false);
                for (std::size_t i = 0; i < states.size(); ++i, ++ending) {
                    ending->state = states[i];
                    ending->broken = broken[i];
                }
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
        filtered(own.get(), last - from, states, true);
        const double *at = own.get() + (first - from);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = at[i] - at[i] == 0 ? at[i] : nan; // finite
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

    /// Filters pieces in place, the last one maybe shorter, each from its state, which it leaves as it then is; tells
    /// in which there were gaps.
    std::vector<bool> filtered(double *samples, std::int64_t count, std::vector<State> &states, bool keep) const
    {
        std::vector<bool> broken(states.size());
        std::vector<std::size_t> whole;
        for (std::size_t i = 0; i < states.size(); ++i) {
            const std::int64_t length = std::min(piece, count - std::int64_t(i) * piece);
            double *at = samples + std::int64_t(i) * piece;
            std::int64_t gaps = 0;
            if (m_gaps)
                for (std::int64_t k = 0; k < length; ++k) gaps += at[k] != at[k];
            broken[i] = gaps > 0;
            if (!broken[i] && isFresh(states[i])) states[i] = m_filter.settledAt(at[0]);
            if (broken[i] || length < piece)
                acrossGaps({at, std::size_t(length)}, states[i]);
            else
                whole.push_back(i);
        }
        std::size_t done = 0;
        for (; done + FilterCascade::together <= whole.size(); done += FilterCascade::together) {
            double *pieces[FilterCascade::together];
            State *own[FilterCascade::together];
            for (int lane = 0; lane < FilterCascade::together; ++lane) {
                const std::size_t i = whole[done + std::size_t(lane)];
                pieces[lane] = samples + std::int64_t(i) * piece;
                own[lane] = &states[i];
            }
            m_filter.runTogether(pieces, piece, own, keep);
        }
        for (; done < whole.size(); ++done)
            m_filter.run({samples + std::int64_t(whole[done]) * piece, std::size_t(piece)}, states[whole[done]]);
        return broken;
    }
    /// One behind the other what lies between gaps.
    void acrossGaps(std::span<double> samples, State &state) const
    {
        const auto isGap = [](double v) { return v != v; };
        for (auto at = samples.begin(); at != samples.end();) {
            if (isGap(*at)) {
                state = fresh();
                ++at;
                continue;
            }
            const auto end = std::find_if(at, samples.end(), isGap);
            if (isFresh(state)) state = m_filter.settledAt(*at);
            m_filter.run({at, end}, state);
            at = end;
        }
    }

    FilterCascade m_filter;
    std::size_t m_numbers;        ///< of a state
    bool m_gaps;                  ///< there may be some
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
