#include "line_sieve.h"

#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace fulvex {

namespace {

/// Of the line from each place to the next where its column begins, of so many, each `size` long; of one that is longer
/// than that, or goes back, the one behind the last.
FULVEX_WIDEST_VECTORS void columnsOf(const double *ui, std::size_t lines, double longest, double columns,
                                     std::int32_t size, std::int32_t *places)
{
    const double base = std::floor(ui[0]);
    for (std::size_t i = 0; i < lines; ++i) {
        const double from = ui[i] - base, step = ui[i + 1] - ui[i], there = from > 0 ? from : 0;
        const double in = (there - double(std::int32_t(there))) * columns, kept = in < columns - 1 ? in : columns - 1;
        const double usual = step >= 0 ? longest - step : -1, whether = from < 0 ? -1 : usual;
        places[i] = std::int32_t(whether < 0 ? columns : kept) * size;
    }
}

FULVEX_WIDEST_VECTORS void rowsOf(const double *values, std::size_t size, double low, double perValue, double last,
                                  std::int32_t *places)
{
    for (std::size_t i = 0; i < size; ++i) {
        const double at = (values[i] - low) * perValue + 1, kept = at < last ? at : last, row = kept > 0 ? kept : 0;
        places[i] = std::int32_t(values[i] == values[i] ? row : last + 1);
    }
}

} // namespace

LineSieve::LineSieve(double step, double low, double high)
    : m_bands(std::size_t(columns + 1) * (rows + 1)), m_ofPieces(m_bands), m_low(low)
{
    constexpr double room = 1.03; // lines of a loop's unit intervals, which are not all as long
    m_longest = room * step;
    m_perValue = (rows - 2) / std::max(high - low, 1e-300);
}

void LineSieve::setAreas(const std::vector<MaskShape> &shapes)
{
    fill(m_bands, m_longest, shapes);
    fill(m_ofPieces, m_longest / pieces, shapes);
}

void LineSieve::fill(Bands &bands, double reach, const std::vector<MaskShape> &shapes) const
{
    constexpr double slack = 1e-6;                      // columns and rows, for rounding
    const auto rowOf = [&](double value, double more) { // the first and the last are all that lies below and above
        return int(std::clamp((value - m_low) * m_perValue + 1 + more, 0.0, rows - 1.0));
    };
    for (int column = 0; column < columns; ++column) {
        std::array<bool, rows> taken{};
        const double from = (column - slack) / columns, to = (column + 1 + slack) / columns + reach * (1 + slack);
        for (const MaskShape &shape : shapes) {
            for (double of = std::ceil(from - shape.right()); of <= to - shape.left(); ++of) { // unit intervals ahead
                const auto span = shape.spanWithin(from - of, to - of);
                if (!span) continue;
                for (int row = rowOf(span->first, -slack), last = rowOf(span->second, slack); row <= last; ++row)
                    taken[std::size_t(row)] = true;
            }
        }
        std::uint8_t *its = bands.data() + std::size_t(column) * (rows + 1), band = 0;
        for (std::size_t row = 0; row < rows; ++row) {
            if (!taken[row] && (row == 0 || taken[row - 1])) ++band;
            its[row] = taken[row] ? 0 : band;
        }
    }
}

bool LineSieve::isClear(MaskPoint a, MaskPoint b) const
{
    if (!(b.x - a.x >= 0 && b.x - a.x <= m_longest) || std::isnan(a.y + b.y)) return false;
    const auto rowOf = [&](double value) {
        return std::size_t(std::clamp((value - m_low) * m_perValue + 1, 0.0, rows - 1.0));
    };
    const double start = std::floor(a.x), perPiece = 1.0 / pieces;
    std::size_t row = rowOf(a.y);
    for (int piece = 0; piece < pieces; ++piece) {
        const double x = a.x + (b.x - a.x) * perPiece * piece - start, in = x - std::floor(x);
        const std::size_t column = std::min(std::size_t(in * columns), std::size_t(columns - 1));
        const std::size_t next = rowOf(a.y + (b.y - a.y) * perPiece * (piece + 1));
        const std::uint8_t *its = m_ofPieces.data() + column * (rows + 1);
        if (its[row] == 0 || its[row] != its[next]) return false;
        row = next;
    }
    return true;
}

void LineSieve::place(std::span<const double> ui, std::span<const double> values)
{
    m_columns.resize(ui.size());
    m_rows.resize(values.size());
    if (ui.size() > 1) columnsOf(ui.data(), ui.size() - 1, m_longest, columns, rows + 1, m_columns.data() + 1);
    rowsOf(values.data(), values.size(), m_low, m_perValue, rows - 1, m_rows.data());
}

} // namespace fulvex
