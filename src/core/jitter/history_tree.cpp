#include "history_tree.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_errno.h>
#include <gsl/gsl_linalg.h>
#include <map>

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
    // What a library cannot compute is no reason to end the program: it is told by its results.
    [[maybe_unused]] static const auto handler = gsl_set_error_handler_off();
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
        m_responses.emplace_back();
        if (cells.empty()) continue;
        takeOffResponse(cells, step);
        grow(std::move(cells), std::vector<std::uint8_t>(m_before + m_behind, noSymbol),
             std::uint8_t(16 * (step / m_levels) + step % m_levels));
    }
}

double HistoryTree::valueOf(std::size_t cell, std::size_t digit) const
{
    return 2 * double(digitOf(cell, digit)) / double(m_levels - 1) - 1;
}

void HistoryTree::takeOffResponse(const std::vector<std::uint32_t> &cells, std::size_t step)
{
    const std::size_t digits = m_before + m_behind, unknowns = digits + 1;
    Response &response = m_responses[step];
    response.adds.assign(digits, 0);
    std::vector<double> squares(unknowns * unknowns), right(unknowns), row(unknowns);
    double count = 0;
    for (const std::uint32_t cell : cells) {
        row[digits] = 1;
        for (std::size_t k = 0; k < digits; ++k) row[k] = valueOf(cell, k);
        const double times = double(m_cells[cell].count);
        count += times;
        for (std::size_t i = 0; i < unknowns; ++i) {
            for (std::size_t k = 0; k < unknowns; ++k) squares[i * unknowns + k] += times * row[i] * row[k];
            right[i] += row[i] * m_cells[cell].sum;
        }
    }
    if (count < 2 * double(unknowns)) return;
    // Symbols that never change, or go with others, add nothing by themselves.
    for (std::size_t i = 0; i < unknowns; ++i) squares[i * unknowns + i] += 1e-6 * count;
    gsl_matrix_view matrix = gsl_matrix_view_array(squares.data(), unknowns, unknowns);
    gsl_vector_view solution = gsl_vector_view_array(right.data(), unknowns);
    if (gsl_linalg_cholesky_decomp1(&matrix.matrix) != GSL_SUCCESS ||
        gsl_linalg_cholesky_svx(&matrix.matrix, &solution.vector) != GSL_SUCCESS ||
        gsl_linalg_cholesky_invert(&matrix.matrix) != GSL_SUCCESS)
        return;
    constexpr double sure = 3.5; // of noise alone one in two thousand symbols adds as much
    for (std::size_t k = 0; k < digits; ++k) {
        const double freedom = squares[k * unknowns + k];
        if (!(std::abs(right[k]) > sure * std::sqrt(m_variance * freedom))) continue;
        response.adds[k] = right[k];
        response.freedom += freedom;
    }
    for (const std::uint32_t cell : cells) {
        double adds = 0;
        for (std::size_t k = 0; k < digits; ++k) adds += response.adds[k] * valueOf(cell, k);
        m_cells[cell].sum -= adds * double(m_cells[cell].count);
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
    const Response &response = m_responses[(step / 16) * m_levels + step % 16];
    double count = 0, sum = 0;
    for (const std::uint32_t cell : cells) {
        count += double(m_cells[cell].count);
        sum += m_cells[cell].sum;
    }
    // By each combination of the symbols that add something by themselves.
    std::map<std::vector<std::uint8_t>, std::uint32_t> leafOf;
    for (const std::uint32_t cell : cells) {
        std::vector<std::uint8_t> symbols = known;
        double adds = 0;
        for (std::size_t k = 0; k < symbols.size(); ++k) {
            if (response.adds[k] == 0) continue;
            symbols[k] = std::uint8_t(digitOf(cell, k));
            adds += response.adds[k] * valueOf(cell, k);
        }
        const auto [at, fresh] = leafOf.emplace(symbols, std::uint32_t(m_leaves.size()));
        if (fresh) {
            m_leaves.push_back({step, wordsOf(symbols, step), 0, sum / count + adds, 1 / count + response.freedom});
        }
        m_leafOf[cell] = at->second;
        m_leaves[at->second].count += m_cells[cell].count;
    }
}

std::string HistoryTree::wordsOf(const std::vector<std::uint8_t> &known, std::uint8_t step) const
{
    const auto letter = [](std::uint8_t symbol) { return symbol == noSymbol ? '.' : char('0' + symbol); };
    std::string words;
    for (std::size_t k = m_before; k-- > 0;) // the earliest first
        if (!words.empty() || known[k] != noSymbol) words += letter(known[k]);
    words += letter(step / 16);
    words += '|';
    words += letter(step % 16);
    std::size_t behind = m_behind;
    while (behind > 0 && known[m_before + behind - 1] == noSymbol) --behind;
    for (std::size_t k = 0; k < behind; ++k) words += letter(known[m_before + k]);
    return words;
}

} // namespace fulvex
