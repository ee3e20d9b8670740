#pragma once

#include "jitter_edges.h"
#include "raw_vector.h"

#include <span>
#include <string>
#include <vector>

namespace fulvex {

/// How the symbols around an edge, as many as there is room for, make one number.
class HistoryLayout {
public:
    explicit HistoryLayout(std::size_t levels);
    std::size_t levels() const { return m_levels; }
    std::size_t before() const { return m_before; } ///< symbols before the one that an edge leaves
    std::size_t behind() const { return m_behind; } ///< and behind the one that it reaches
    std::size_t digits() const { return m_before + m_behind; }
    std::size_t size() const { return m_levels * m_levels * m_perStep; }
    std::size_t perStep() const { return m_perStep; }   ///< of each pair of symbols left and reached, in that order
    std::size_t ofBehind() const { return m_ofBehind; } ///< of those behind alone
    /// Of an edge at a boundary of some symbols, `symbolAt(place)` lying behind each; between its own two `step`, which
    /// counts pairs of symbols.
    template <typename SymbolAt>
    std::size_t historyAt(std::ptrdiff_t place, std::size_t step, SymbolAt &&symbolAt) const
    {
        std::size_t past = 0, next = 0;
        for (std::size_t k = 0; k < m_before; ++k) past = past * m_levels + symbolAt(place - 2 - std::ptrdiff_t(k));
        for (std::size_t k = 0; k < m_behind; ++k) next = next * m_levels + symbolAt(place + 1 + std::ptrdiff_t(k));
        return step * m_perStep + past * m_ofBehind + next;
    }
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
};

/// The symbols around each edge of a record: made once, whatever is then asked of the edges.
class Histories {
public:
    Histories(const JitterEdges &edges, Progress &progress);
    const HistoryLayout &layout() const { return m_layout; }
    const RawVector<std::uint32_t> &ofEdges() const { return m_ofEdges; }
    /// Edges whose symbols are all known lie between these: the first of them and the one behind the last. Others have
    /// the history of one that leaves and reaches the same, and tell nothing.
    std::size_t firstKnown() const { return m_firstKnown; }
    std::size_t behindKnown() const { return m_behindKnown; }

private:
    HistoryLayout m_layout;
    RawVector<std::uint32_t> m_ofEdges;
    std::size_t m_firstKnown = 0, m_behindKnown = 0;
};

/// What is added up of edges by their history. Mergeable: of several records it is that of all their edges.
struct HistorySums {
    struct Cell {
        std::int64_t count = 0;
        double sum = 0; ///< s
    };
    std::size_t levels = 2;
    std::vector<Cell> cells; ///< by history; empty: none
    double squares = 0;      ///< s², of all of them
    void merge(const HistorySums &later);
};
/// Of edges with `errors` (s), less `without` where it is not empty.
HistorySums sumsByHistory(const Histories &histories, std::span<const double> errors, std::span<const float> without,
                          Progress &progress);

} // namespace fulvex
