#pragma once

#include "edge_list.h"
#include "progress.h"

#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>

namespace fulvex {

/// How late edges are by a straight line, in unit intervals, and how many these lie behind each other: what a loop is
/// driven by.
struct LatenessOnLine {
    const double *positions;
    const std::int32_t *numbers;
    double offset, inverse; ///< samples; of the period
    double at(std::size_t edge) const { return (positions[edge] - offset) * inverse - double(numbers[edge]); }
    /// Since the edge before, which is there.
    std::int32_t stepsTo(std::size_t edge) const { return numbers[edge] - numbers[edge - 1]; }
};

/// y' = w + g e, w' = k e, e = x - y, per unit interval, by the trapezoidal rule. From one edge to the next the loop is
/// linear in its state and in the phase, which runs straight between edges; the map for a run of unit intervals is
/// found once by running unit inputs through it.
class PhaseLoop {
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
    static constexpr std::size_t together = 4;
    using States = std::array<State, together>;

    /// `late` and `progress` are used as long as the loop is.
    PhaseLoop(double g, double k, LatenessOnLine late, Progress &progress);
    /// Takes the edges of a range one by one; `out`, which may be null, becomes what the loop follows at each, as one
    /// of `out[edge]`.
    State follow(SampleRange edges, State state, double *out) const;
    /// As many edges from each of four places on, none of which is the first edge: follow() of each, to the last bit.
    /// By turns, since each waits for its own last step.
    States followTogether(const std::array<std::size_t, together> &places, std::size_t count, States states,
                          double *out) const;

private:
    struct Step {
        Pair phase, change, from, to; ///< what each does to the state
    };
    State advanced(State state, std::int32_t steps, double x) const;
    Pair run(std::int64_t steps, Pair state, double from, double to) const;

    static constexpr std::int32_t longest = 64; ///< unit intervals that are one step
    double m_k, m_c;
    LatenessOnLine m_late;
    Progress &m_progress;
    std::array<Step, longest + 1> m_table{};
};

} // namespace fulvex
