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

/// Each piece of the record goes on from a state that is known of its first sample, so that a block is the same however
/// it is cut. How a piece ends that begins in silence is told by its samples; what it begins with fades over it as over
/// any, which the filter's response to its own state alone tells. Where that fades within a few pieces, these are run
/// through before each piece; else a scan of the record goes through all, and a block costs what its own samples do.
class RecursiveFilter final : public OverTime {
public:
    RecursiveFilter(const SourcePtr &argument, FilterCascade filter, Progress &progress)
        : OverTime(argument), m_filter(std::move(filter)), m_numbers(2 * m_filter.sections()),
          m_silent(m_filter, std::size_t(piece)), m_fading(m_numbers)
    {
        for (std::size_t k = 0; k < m_numbers; ++k) {
            std::vector<double> silence(std::size_t(piece), 0.0);
            m_fading[k][k] = 1;
            m_filter.run(silence, m_fading[k]);
        }
        m_before = piecesUntilFaded();
        if (m_before > fewPieces) scan(progress);
    }
    double readEffort() const override
    {
        const double before = m_starts.empty() ? double(m_before) / FilterCascade::together : 0;
        return double(m_numbers) / 4 + (1.1 + before) * OverTime::readEffort();
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size()), firstPiece = first / piece;
        const std::int64_t before = m_starts.empty() ? std::min(m_before, firstPiece) : 0;
        const std::int64_t from = (firstPiece - before) * piece, begin = firstPiece * piece;
        const auto own = values(from, last - from);
        std::vector<State> states(std::size_t((last - begin + piece - 1) / piece));
        if (m_starts.empty()) {
            std::vector<Ending> endings; // of all but the last
            for (std::int64_t at = 0; at + piece < last - from; at += piece)
                endings.push_back(endingOf(own.get() + at));
            for (std::int64_t i = 0; i < std::int64_t(states.size()); ++i) {
                states[std::size_t(i)] = fresh();
                const std::int64_t here = before + i; // among the endings
                for (std::int64_t k = std::max<std::int64_t>(0, here - m_before); k < here; ++k)
                    goOn(states[std::size_t(i)], endings[std::size_t(k)]);
            }
        } else {
            for (std::size_t i = 0; i < states.size(); ++i) {
                const auto start = m_starts.begin() + std::ptrdiff_t((std::size_t(firstPiece) + i) * m_numbers);
                std::copy(start, start + std::ptrdiff_t(m_numbers), states[i].begin());
            }
        }
        const double *samples = own.get() + (begin - from);
        if (begin == first) {
            filtered(samples, last - begin, states, out.data());
            return;
        }
        std::vector<double> all(std::size_t(last - begin));
        filtered(samples, last - begin, states, all.data());
        std::copy(all.begin() + (first - begin), all.end(), out.begin());
    }

private:
    static constexpr std::int64_t piece = 512;
    static constexpr std::int64_t fewPieces = 4; ///< are run through rather than scanning the record
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

    /// After how many pieces nothing is left of a state; one more than few where that takes longer.
    std::int64_t piecesUntilFaded() const
    {
        constexpr double nothing = 1e-18; // of what it was
        std::vector<State> left = m_fading;
        for (std::int64_t pieces = 1; pieces <= fewPieces; ++pieces) {
            double largest = 0;
            for (const State &of : left)
                for (std::size_t k = 0; k < m_numbers; ++k) largest = std::max(largest, std::abs(of[k]));
            if (largest < nothing) return pieces;
            for (State &of : left) of = faded(of);
        }
        return fewPieces + 1;
    }
    /// A state after a piece of silence.
    State faded(const State &now) const
    {
        State next{};
        for (std::size_t k = 0; k < m_numbers; ++k)
            for (std::size_t of = 0; of < m_numbers; ++of) next[k] += m_fading[of][k] * now[of];
        return next;
    }
    void scan(Progress &progress)
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
                for (std::int64_t at = 0; at + piece <= length; at += piece)
                    endings[std::size_t((first + at) / piece)] = endingOf(own.get() + at);
            }
            release(mine);
        });
        m_starts.reserve(endings.size() * m_numbers);
        State now = fresh();
        for (const Ending &ending : endings) {
            m_starts.insert(m_starts.end(), now.begin(), now.begin() + std::ptrdiff_t(m_numbers));
            goOn(now, ending);
        }
    }
    /// From what a piece begins with to what it ends with.
    void goOn(State &now, const Ending &ending) const
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
    /// Of a whole piece that begins in silence.
    Ending endingOf(const double *samples) const
    {
        Ending ending{m_silent.of(samples), *samples};
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

    FilterCascade::Ending m_silent;
    std::vector<State> m_fading;  ///< of each number of a state, what a piece of silence leaves of it
    std::int64_t m_before = 0;    ///< pieces that are run through before each
    std::vector<double> m_starts; ///< the state at the first sample of each piece; empty: found as it is read
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
