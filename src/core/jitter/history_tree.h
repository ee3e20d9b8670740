#pragma once

#include "histories.h"

#include <string>
#include <vector>

namespace fulvex {

/// Edges told apart by the symbols around them, as far as that makes a difference. First what each symbol adds by
/// itself, as a pulse response does: for each transition by least squares, those that stand out of chance. Of what is
/// left a tree that asks for one symbol after the other, each time for the one that tells most, while both answers have
/// enough edges and differ by more than chance.
class HistoryTree {
public:
    /// `least`: edges that an answer is to have.
    HistoryTree(HistorySums sums, std::int64_t least);

    struct Leaf {
        std::uint8_t step = 0; ///< 16 * the symbol left + the symbol reached
        std::string symbols;   ///< around it, "01.1|0": a point is any
        std::int64_t count = 0;
        double mean = 0;     ///< s
        double variance = 0; ///< of the mean, s²: of chance, and of what symbols add that none is believed to
        double freedom = 0;  ///< variance of the mean, in those of an edge
    };
    const std::vector<Leaf> &leaves() const { return m_leaves; }
    std::uint32_t leafOf(std::size_t history) const { return m_leafOf[history]; } ///< of one that an edge has
    bool knows(std::size_t history) const { return m_cells[history].count > 0; }
    const HistoryLayout &layout() const { return m_layout; }
    /// Mean square of what the symbols around an edge do not tell, s²: of edges that have all of them alike.
    double variance() const { return m_variance; }

private:
    using Cell = HistorySums::Cell;
    /// Of edges whose squares add up to that.
    double varianceWithin(double squares) const;
    double valueOf(std::size_t cell, std::size_t digit) const; ///< of its symbol, from -1 to 1
    /// What symbols add by themselves, taken off the cells of one step.
    void takeOffResponse(const std::vector<std::uint32_t> &cells, std::size_t step);
    void grow(std::vector<std::uint32_t> cells, std::vector<std::uint8_t> known, std::uint8_t step);
    void end(const std::vector<std::uint32_t> &cells, const std::vector<std::uint8_t> &known, std::uint8_t step);

    HistoryLayout m_layout;
    std::int64_t m_least;
    double m_variance = 0;
    std::vector<Cell> m_cells;
    std::vector<std::uint32_t> m_leafOf; ///< of each cell
    std::vector<Leaf> m_leaves;
    struct Response {
        std::vector<double> adds; ///< s, of each symbol around; 0: no more than chance
        double freedom = 0;       ///< of their sum, as a leaf's
        double unbelieved = 0;    ///< s²: what the others add beyond chance, taken together
    };
    std::vector<Response> m_responses; ///< by step
};

} // namespace fulvex
