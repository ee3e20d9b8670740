#pragma once

#include "filter_cascade.h"

#include <cstdint>
#include <limits>
#include <span>
#include <vector>

namespace fulvex {

/// A record as pieces that a filter runs over one behind the other, each from the state that the one before left. How a
/// piece ends that begins in silence is told by its samples; what it begins with fades over it as over any, which the
/// filter's response to its own state alone tells.
class FilterPieces {
public:
    using State = FilterCascade::State;
    static constexpr std::int64_t length = 512; ///< of each, samples
    struct Ending {
        State state{};
        double first = 0;    ///< value
        bool broken = false; ///< by a gap: what it began with does not matter
    };

    explicit FilterPieces(FilterCascade filter);
    std::size_t numbers() const
    {
        return m_numbers;
    } ///< of a state
      /// Settles at the next value.
    static State fresh();
    static bool isFresh(const State &state) { return state[0] != state[0]; }
    /// After how many pieces no more than a share is left of a state; one more than `most` where that takes longer.
    std::int64_t piecesUntilFaded(double share, std::int64_t most) const;
    /// Of a whole piece that begins in silence.
    Ending endingOf(const double *samples) const;
    /// From what a piece begins with to what it ends with.
    void goOn(State &now, const Ending &ending) const;
    /// Filters pieces, the last one maybe shorter, each from its state. What is not finite becomes a gap.
    void filter(std::span<const double> samples, std::vector<State> &states, double *results) const;
    /// The same of the record from sample `first` on, which lies within the first of these pieces.
    void filterFrom(std::int64_t first, std::span<const double> samples, std::vector<State> &states,
                    std::span<double> out) const;

    /// In what state it is after an endless time of one value.
    State settledAt(double value) const { return m_filter.settledAt(value); }

private:
    State faded(const State &now) const;
    bool isSound(const State &state) const;
    bool acrossGaps(std::span<double> samples, State &state) const;

    FilterCascade m_filter;
    std::size_t m_numbers;
    FilterCascade::Ending m_silent;
    std::vector<State> m_fading; ///< of each number of a state, what a piece of silence leaves of it
};

} // namespace fulvex
