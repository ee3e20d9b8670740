#include "eye_density.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

EyeDensity::EyeDensity(const EyeFold &fold)
    : m_hits(fold.picture), m_curves(fold.curves.counts), m_columns(m_hits.columns), m_rows(m_hits.rows.count),
      m_cells(m_hits.counts.size())
{
    const bool drawn = fold.curves.unitIntervals > 0 && m_curves.rows == m_hits.rows;
    const auto &counts = drawn ? m_curves.counts : m_hits.counts;
    const float scale = drawn ? float(double(fold.unitIntervals) / double(fold.curves.unitIntervals)) : 1;
    for (std::size_t i = 0; i < m_cells.size(); ++i) m_cells[i] = float(counts[i]) * scale;
    if (drawn && fold.curves.unitIntervals < fold.unitIntervals) addRareHits();
}

float EyeDensity::most() const
{
    return *std::max_element(m_cells.begin(), m_cells.end());
}

/// Hits where no curve was drawn, since that of their unit interval was not. Where samples come at the same phases
/// again and again, all of them lie in few columns: then each stands for what lies between these as well, along
/// the border of the curves.
void EyeDensity::addRareHits()
{
    findBorders();
    const int reach = reachOfColumns();
    for (int row = 0; row < m_rows; ++row) {
        for (int column = 0; column < m_columns; ++column) {
            const std::uint64_t hits = m_hits.counts[cell(column, row)];
            if (hits > 0 && !isDrawn(column, row)) addAlong(column, row, float(hits), reach);
        }
    }
}

void EyeDensity::addAlong(int column, int row, float hits, int reach)
{
    m_cells[cell(column, row)] = std::max(m_cells[cell(column, row)], hits);
    constexpr int few = 12; // rows from the curves, within which hits follow their border
    const int border = m_border[cell(column, row)];
    if (border < 0 || std::abs(row - border) > few) return;
    for (int step = -reach; step <= reach; ++step) {
        const int beside = (column + step + m_columns) % m_columns, from = m_border[cell(beside, border)];
        const int there = from + row - border;
        if (from < 0 || there < 0 || there >= m_rows || isDrawn(beside, there)) continue;
        m_cells[cell(beside, there)] = std::max(m_cells[cell(beside, there)], hits);
    }
}

/// How far half the way to the next columns that are hit is, where there is a comb of them; else 0.
int EyeDensity::reachOfColumns() const
{
    std::vector<double> totals(static_cast<std::size_t>(m_columns));
    for (int row = 0; row < m_rows; ++row)
        for (int column = 0; column < m_columns; ++column)
            totals[std::size_t(column)] += double(m_hits.counts[cell(column, row)]);
    const double mean = std::accumulate(totals.begin(), totals.end(), 0.0) / double(totals.size());
    int longest = 0, run = 0;
    for (std::size_t i = 0; i < 2 * totals.size(); ++i) {
        run = totals[i % totals.size()] < mean / 2 ? run + 1 : 0;
        longest = std::max(longest, std::min(run, m_columns / 8));
    }
    return (longest + 1) / 2;
}

/// Of each cell the nearest row of its column that a curve passes; -1: none does.
void EyeDensity::findBorders()
{
    m_border.assign(m_cells.size(), -1);
    for (int row = 0; row < m_rows; ++row)
        for (int column = 0; column < m_columns; ++column)
            m_border[cell(column, row)] = isDrawn(column, row) ? row : row > 0 ? m_border[cell(column, row - 1)] : -1;
    std::vector<int> above(static_cast<std::size_t>(m_columns), -1);
    for (int row = m_rows; row-- > 0;) {
        for (int column = 0; column < m_columns; ++column) {
            int &next = above[std::size_t(column)], &known = m_border[cell(column, row)];
            if (isDrawn(column, row)) next = row;
            if (next >= 0 && (known < 0 || next - row < row - known)) known = next;
        }
    }
}

} // namespace fulvex
