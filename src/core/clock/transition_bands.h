#pragma once

#include "crossing_masks.h"
#include "edge_list.h"
#include "symbol_levels.h"

#include <cstdint>
#include <vector>

namespace fulvex {

/// The levels at which transitions between symbols are timed: the middles between all pairs of levels, each value once.
class TransitionBands {
public:
    explicit TransitionBands(const SymbolLevels &levels);
    const std::vector<CrossingLevel> &levels() const { return m_levels; }
    /// Which of them a transition passes.
    std::uint8_t of(std::size_t before, std::size_t after) const { return m_bandOf[before * m_symbols + after]; }
    std::uint8_t ofStep(std::uint8_t step) const { return of(step / mostSymbols, step % mostSymbols); }

private:
    std::size_t m_symbols;
    std::vector<std::uint8_t> m_bandOf;
    std::vector<CrossingLevel> m_levels;
};

/// Transitions of a stretch of boundaries, ascending.
struct FoundTransitions {
    EdgeList edges;
    bool gap = false; ///< behind the last of them
    void resize(std::size_t count);
};

/// How far from where a transition is expected its crossing may lie, unit intervals.
constexpr double transitionReach = 0.6;

} // namespace fulvex
