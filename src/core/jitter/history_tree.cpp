#include "history_tree.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// A split is believed from here on: of noise alone one in 10^5 questions is answered so. By the degrees of freedom.
double chiSquaredBelieved(std::size_t degrees)
{
    // Wilson, Hilferty (1931): the cube root of chi-squared over its degrees is nearly normal.
    constexpr double normal = 4.27;
    const double k = double(degrees), share = 2 / (9 * k);
    return k * std::pow(1 - share + normal * std::sqrt(share), 3);
}

std::size_t power(std::size_t base, std::size_t exponent)
{
    std::size_t result = 1;
    for (; exponent > 0; --exponent) result *= base;
    return result;
}

} // namespace

HistoryTree::HistoryTree(const JitterEdges &edges, const std::vector<double> &errors, std::int64_t least,
                         Progress &progress)
    : m_levels(edges.levels), m_least(least)
{
    constexpr std::size_t mostCells = 1 << 15;
    const std::size_t steps = m_levels * m_levels;
    m_behind = m_levels == 2 ? 2 : 1;
    while (steps * power(m_levels, m_before + 1 + m_behind) <= mostCells) ++m_before;
    const std::size_t perStep = power(m_levels, m_before + m_behind);
    m_cells.resize(steps * perStep);
    m_cellOf.resize(edges.size());
    double squares = 0;
    const auto last = std::ptrdiff_t(edges.symbols.size());
    const auto symbolAt = [&](std::ptrdiff_t place) { // what is not known is taken for the lowest: few
        const std::uint8_t symbol = place < 0 || place >= last ? noSymbol : edges.symbols[std::size_t(place)];
        return symbol < m_levels ? std::size_t(symbol) : 0;
    };
    for (std::size_t edge = 0; edge < edges.size(); ++edge) {
        if (edge % (1 << 16) == 0) progress.advance(0);
        const std::ptrdiff_t place = edges.places[edge];
        std::size_t cell = (edges.steps[edge] / 16) * m_levels + edges.steps[edge] % 16;
        for (std::size_t k = 0; k < m_before; ++k) cell = cell * m_levels + symbolAt(place - 2 - std::ptrdiff_t(k));
        for (std::size_t k = 0; k < m_behind; ++k) cell = cell * m_levels + symbolAt(place + 1 + std::ptrdiff_t(k));
        m_cellOf[edge] = std::uint32_t(cell);
        ++m_cells[cell].count;
        m_cells[cell].sum += errors[edge];
        squares += errors[edge] * errors[edge];
    }
    double between = 0;
    std::int64_t filled = 0;
    for (const Cell &cell : m_cells) {
        if (cell.count == 0) continue;
        between += cell.sum * cell.sum / double(cell.count);
        ++filled;
    }
    m_variance = std::max(0.0, squares - between) / std::max(1.0, double(std::int64_t(edges.size()) - filled));
    m_leafOf.resize(m_cells.size());
    for (std::size_t step = 0; step < steps; ++step) {
        std::vector<std::uint32_t> cells;
        for (std::size_t cell = step * perStep; cell < (step + 1) * perStep; ++cell)
            if (m_cells[cell].count > 0) cells.push_back(std::uint32_t(cell));
        if (!cells.empty())
            grow(std::move(cells), std::vector<std::uint8_t>(m_before + m_behind, noSymbol),
                 std::uint8_t(16 * (step / m_levels) + step % m_levels));
    }
}

std::size_t HistoryTree::digitOf(std::size_t cell, std::size_t digit) const
{
    return cell / power(m_levels, m_before + m_behind - 1 - digit) % m_levels;
}

void HistoryTree::grow(std::vector<std::uint32_t> cells, std::vector<std::uint8_t> known, std::uint8_t step)
{
    std::size_t best = known.size();
    double most = 1;
    for (std::size_t digit = 0; digit < known.size(); ++digit) {
        if (known[digit] != noSymbol) continue;
        std::vector<Cell> answers(m_levels);
        Cell all;
        for (const std::uint32_t cell : cells) {
            Cell &answer = answers[digitOf(cell, digit)];
            for (Cell *to : {&answer, &all}) {
                to->count += m_cells[cell].count;
                to->sum += m_cells[cell].sum;
            }
        }
        double spread = -all.sum * all.sum / double(all.count);
        std::size_t given = 0;
        bool enough = true;
        for (const Cell &answer : answers) {
            if (answer.count == 0) continue; // codes that leave symbols out
            ++given;
            enough = enough && answer.count >= m_least;
            spread += answer.sum * answer.sum / double(answer.count);
        }
        if (given < 2 || !enough) continue;
        const double told = spread / (m_variance * chiSquaredBelieved(given - 1));
        if (told > most) {
            most = told;
            best = digit;
        }
    }
    if (best == known.size()) return end(cells, known, step);
    for (std::size_t symbol = 0; symbol < m_levels; ++symbol) {
        std::vector<std::uint32_t> some;
        for (const std::uint32_t cell : cells)
            if (digitOf(cell, best) == symbol) some.push_back(cell);
        if (some.empty()) continue;
        known[best] = std::uint8_t(symbol);
        grow(std::move(some), known, step);
    }
}

void HistoryTree::end(const std::vector<std::uint32_t> &cells, const std::vector<std::uint8_t> &known,
                      std::uint8_t step)
{
    Leaf leaf;
    leaf.step = step;
    for (const std::uint32_t cell : cells) {
        m_leafOf[cell] = std::uint32_t(m_leaves.size());
        leaf.count += m_cells[cell].count;
        leaf.mean += m_cells[cell].sum;
    }
    leaf.mean /= double(leaf.count);
    const auto letter = [](std::uint8_t symbol) { return symbol == noSymbol ? '.' : char('0' + symbol); };
    for (std::size_t k = m_before; k-- > 0;) // the earliest first
        if (!leaf.symbols.empty() || known[k] != noSymbol) leaf.symbols += letter(known[k]);
    leaf.symbols += letter(step / 16);
    leaf.symbols += '|';
    leaf.symbols += letter(step % 16);
    std::size_t behind = m_behind;
    while (behind > 0 && known[m_before + behind - 1] == noSymbol) --behind;
    for (std::size_t k = 0; k < behind; ++k) leaf.symbols += letter(known[m_before + k]);
    m_leaves.push_back(std::move(leaf));
}

} // namespace fulvex
