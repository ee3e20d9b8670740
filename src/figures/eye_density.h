#pragma once

#include "eye_fold.h"

namespace fulvex {

/// How many traces pass each cell of an eye: curves where they were drawn, scaled to all of the record, and what else
/// was hit.
class EyeDensity {
public:
    explicit EyeDensity(const EyeFold &fold);
    float at(int column, int row) const { return m_cells[cell(column, row)]; }
    float most() const;

private:
    std::size_t cell(int column, int row) const
    {
        return std::size_t(row) * std::size_t(m_columns) + std::size_t(column);
    }
    bool isDrawn(int column, int row) const { return m_curves.counts[cell(column, row)] > 0; }
    void addRareHits();
    void addAlong(int column, int row, float hits, int reach);
    int reachOfColumns() const;
    void findBorders();
    const EyeCounts &m_hits, &m_curves;
    int m_columns, m_rows;
    std::vector<float> m_cells;
    std::vector<int> m_border;
};

} // namespace fulvex
