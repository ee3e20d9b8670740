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

} // namespace

HistoryTree::HistoryTree(HistorySums sums, std::int64_t least)
    : m_layout(sums.levels), m_least(least), m_cells(std::move(sums.cells))
{
    // What a library cannot compute is no reason to end the program: it is told by its results.
    [[maybe_unused]] static const auto handler = gsl_set_error_handler_off();
    m_cells.resize(m_layout.size());
    const std::size_t levels = m_layout.levels(), steps = levels * levels, perStep = m_layout.perStep();
    m_variance = varianceWithin(sums.squares);
    m_leafOf.resize(m_cells.size());
    for (std::size_t step = 0; step < steps; ++step) {
        std::vector<std::uint32_t> cells;
        for (std::size_t cell = step * perStep; cell < (step + 1) * perStep; ++cell)
            if (m_cells[cell].count > 0) cells.push_back(std::uint32_t(cell));
        m_responses.emplace_back();
        if (cells.empty()) continue;
        takeOffResponse(cells, step);
        grow(std::move(cells), std::vector<std::uint8_t>(m_layout.digits(), noSymbol),
             std::uint8_t(16 * (step / levels) + step % levels));
    }
}

double HistoryTree::varianceWithin(double squares) const
{
    std::int64_t edges = 0;
    for (const Cell &cell : m_cells) edges += cell.count;
    // By histories as long as several edges have one on average: of few edges each has one of its own.
    constexpr std::int64_t several = 8;
    std::vector<Cell> cells = m_cells;
    for (std::size_t symbols = m_layout.before();; --symbols) {
        double between = 0;
        std::int64_t filled = 0;
        for (const Cell &cell : cells) {
            if (cell.count == 0) continue;
            between += cell.sum * cell.sum / double(cell.count);
            ++filled;
        }
        if (symbols == 0 || filled * several <= edges)
            return std::max(0.0, squares - between) / std::max(1.0, double(edges - filled));
        // Without the farthest: each with those that differ by it alone.
        std::vector<Cell> shorter(cells.size() / m_layout.levels());
        for (std::size_t cell = 0; cell < cells.size(); ++cell) {
            Cell &to = shorter[m_layout.withoutFarthest(cell)];
            to.count += cells[cell].count;
            to.sum += cells[cell].sum;
        }
        cells = std::move(shorter);
    }
}

double HistoryTree::valueOf(std::size_t cell, std::size_t digit) const
{
    return 2 * double(m_layout.digitOf(cell, digit)) / double(m_layout.levels() - 1) - 1;
}

void HistoryTree::takeOffResponse(const std::vector<std::uint32_t> &cells, std::size_t step)
{
    const std::size_t digits = m_layout.digits(), unknowns = digits + 1;
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
    // Symbols that never change, or go with others as those of a shift register do, share what they add.
    constexpr double ridge = 3e-4;
    for (std::size_t i = 0; i < unknowns; ++i) squares[i * unknowns + i] += ridge * count;
    gsl_matrix_view matrix = gsl_matrix_view_array(squares.data(), unknowns, unknowns);
    gsl_vector_view solution = gsl_vector_view_array(right.data(), unknowns);
    if (gsl_linalg_cholesky_decomp1(&matrix.matrix) != GSL_SUCCESS ||
        gsl_linalg_cholesky_svx(&matrix.matrix, &solution.vector) != GSL_SUCCESS ||
        gsl_linalg_cholesky_invert(&matrix.matrix) != GSL_SUCCESS)
        return;
    constexpr double sure = 3.5; // of noise alone one in two thousand symbols adds as much
    double unbelieved = 0;
    for (std::size_t k = 0; k < digits; ++k) {
        const double freedom = squares[k * unknowns + k];
        if (!(std::abs(right[k]) > sure * std::sqrt(m_variance * freedom))) {
            unbelieved += right[k] * right[k] - m_variance * freedom;
            continue;
        }
        response.adds[k] = right[k];
        response.freedom += freedom;
    }
    response.unbelieved = std::max(0.0, unbelieved);
    for (const std::uint32_t cell : cells) {
        double adds = 0;
        for (std::size_t k = 0; k < digits; ++k) adds += response.adds[k] * valueOf(cell, k);
        m_cells[cell].sum -= adds * double(m_cells[cell].count);
    }
}

void HistoryTree::grow(std::vector<std::uint32_t> cells, std::vector<std::uint8_t> known, std::uint8_t step)
{
    std::size_t best = known.size();
    double most = 1;
    for (std::size_t digit = 0; digit < known.size(); ++digit) {
        if (known[digit] != noSymbol) continue;
        std::vector<Cell> answers(m_layout.levels());
        Cell all;
        for (const std::uint32_t cell : cells) {
            Cell &answer = answers[m_layout.digitOf(cell, digit)];
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
    for (std::size_t symbol = 0; symbol < m_layout.levels(); ++symbol) {
        std::vector<std::uint32_t> some;
        for (const std::uint32_t cell : cells)
            if (m_layout.digitOf(cell, best) == symbol) some.push_back(cell);
        if (some.empty()) continue;
        known[best] = std::uint8_t(symbol);
        grow(std::move(some), known, step);
    }
}

void HistoryTree::end(const std::vector<std::uint32_t> &cells, const std::vector<std::uint8_t> &known,
                      std::uint8_t step)
{
    const Response &response = m_responses[(step / 16) * m_layout.levels() + step % 16];
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
            symbols[k] = std::uint8_t(m_layout.digitOf(cell, k));
            adds += response.adds[k] * valueOf(cell, k);
        }
        const auto [at, fresh] = leafOf.emplace(symbols, std::uint32_t(m_leaves.size()));
        if (fresh) {
            m_leaves.push_back({step, m_layout.wordsOf(symbols, step), 0, sum / count + adds,
                                m_variance * (1 / count + response.freedom) + response.unbelieved,
                                1 / count + response.freedom});
        }
        m_leafOf[cell] = at->second;
        m_leaves[at->second].count += m_cells[cell].count;
    }
}

} // namespace fulvex
