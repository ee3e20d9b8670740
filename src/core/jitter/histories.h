#pragma once

#include "jitter_edges.h"

#include <string>
#include <vector>

namespace fulvex {

/// The symbols around each edge of a record as one number: made once, whatever is then asked of the edges.
class Histories {
public:
    Histories(const JitterEdges &edges, Progress &progress);
    std::size_t levels() const { return m_levels; }
    std::size_t before() const { return m_before; } ///< symbols before the one that an edge leaves
    std::size_t behind() const { return m_behind; } ///< and behind the one that it reaches
    std::size_t digits() const { return m_before + m_behind; }
    std::size_t size() const { return m_levels * m_levels * m_perStep; }
    std::size_t perStep() const { return m_perStep; } ///< of each pair of symbols left and reached, in that order
    const std::vector<std::uint32_t> &ofEdges() const { return m_ofEdges; }
    /// Edges whose symbols are all known lie between these: the first of them and the one behind the last. Others have
    /// the history of one that leaves and reaches the same, and tell nothing.
    std::size_t firstKnown() const { return m_firstKnown; }
    std::size_t behindKnown() const { return m_behindKnown; }
    /// The symbol at a digit of a history: the nearest before the edge first, then those behind it.
    std::size_t digitOf(std::size_t history, std::size_t digit) const;
    /// A history less its farthest symbol before the edge: one of as many fewer as there are levels.
    std::size_t withoutFarthest(std::size_t history) const
    {
        return history / m_ofBehind / m_levels * m_ofBehind + history % m_ofBehind;
    }
    /// "01.1|0" of symbols by digit, `noSymbol` is any, around a step of 16 * left + reached.
    std::string wordsOf(const std::vector<std::uint8_t> &symbols, std::uint8_t step) const;

private:
    std::size_t m_levels, m_before = 0, m_behind = 0, m_perStep = 1, m_ofBehind = 1;
    std::vector<std::uint32_t> m_ofEdges;
    std::size_t m_firstKnown = 0, m_behindKnown = 0;
};

} // namespace fulvex
