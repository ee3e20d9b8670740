#include "histories.h"

#include "parallel.h"

#include <algorithm>
#include <type_traits>

namespace fulvex {

namespace {

std::size_t power(std::size_t base, std::size_t exponent)
{
    std::size_t result = 1;
    for (; exponent > 0; --exponent) result *= base;
    return result;
}

} // namespace

HistoryLayout::HistoryLayout(std::size_t levels) : m_levels(levels)
{
    constexpr std::size_t most = 1 << 15;
    const std::size_t steps = m_levels * m_levels;
    m_behind = m_levels == 2 ? 2 : 1;
    while (steps * power(m_levels, m_before + 1 + m_behind) <= most) ++m_before;
    m_ofBehind = power(m_levels, m_behind);
    m_perStep = power(m_levels, m_before) * m_ofBehind;
}

namespace {

/// Gives each of some edges its history, whose symbols are all known. `levels`: a number, or a constant, by which the
/// compiler divides without dividing.
template <typename Levels>
void numberHistories(const JitterEdges &edges, const HistoryLayout &layout, Levels levels, SampleRange some,
                     std::uint32_t *of)
{
    const auto symbolAt = [&](std::ptrdiff_t place) { // a gap's is taken for the lowest: few
        const std::uint8_t symbol = edges.symbols[std::size_t(place)];
        return symbol < levels ? std::size_t(symbol) : 0;
    };
    const std::size_t before = layout.before(), behind = layout.behind(), highest = power(levels, before - 1);
    // The symbols before wander through it: the nearest has the highest weight.
    std::ptrdiff_t at = edges.places[std::size_t(some.first)];
    std::size_t past = 0;
    for (std::size_t k = 0; k < before; ++k) past = past * levels + symbolAt(at - 2 - std::ptrdiff_t(k));
    for (auto edge = std::size_t(some.first); edge < std::size_t(some.last); ++edge) {
        const std::ptrdiff_t place = edges.places[edge];
        for (; at < place; ++at) past = symbolAt(at - 1) * highest + past / levels;
        std::size_t next = 0;
        for (std::size_t k = 0; k < behind; ++k) next = next * levels + symbolAt(place + 1 + std::ptrdiff_t(k));
        const std::size_t step = (edges.steps[edge] / 16) * levels + edges.steps[edge] % 16;
        of[edge] = std::uint32_t(step * layout.perStep() + past * layout.ofBehind() + next);
    }
}

} // namespace

Histories::Histories(const JitterEdges &edges, Progress &progress)
    : m_layout(edges.levels), m_ofEdges(edges.size()), m_behindKnown(edges.size())
{
    const auto last = std::ptrdiff_t(edges.symbols.size());
    const auto reach = std::ptrdiff_t(m_layout.before() + 1), ahead = std::ptrdiff_t(m_layout.behind());
    while (m_firstKnown < m_behindKnown && edges.places[m_firstKnown] < reach) ++m_firstKnown;
    while (m_behindKnown > m_firstKnown && edges.places[m_behindKnown - 1] + ahead >= last) --m_behindKnown;
    struct Nothing {};
    constexpr std::int64_t some = 1 << 16;
    inChunks<Nothing>(
        {std::int64_t(m_firstKnown), std::int64_t(m_behindKnown)}, some, progress, [&](SampleRange mine, Nothing &) {
            if (m_layout.levels() == 2)
                numberHistories(edges, m_layout, std::integral_constant<std::size_t, 2>(), mine, m_ofEdges.data());
            else
                numberHistories(edges, m_layout, m_layout.levels(), mine, m_ofEdges.data());
        });
    std::vector<std::uint32_t> known(256, 0); // by step
    for (std::size_t edge = m_behindKnown; edge-- > m_firstKnown && m_behindKnown - edge < some;)
        known[edges.steps[edge]] = m_ofEdges[edge];
    for (std::size_t edge = 0; edge < m_firstKnown; ++edge) m_ofEdges[edge] = known[edges.steps[edge]];
    for (std::size_t edge = m_behindKnown; edge < edges.size(); ++edge) m_ofEdges[edge] = known[edges.steps[edge]];
}

std::size_t HistoryLayout::digitOf(std::size_t history, std::size_t digit) const
{
    return history / power(m_levels, digits() - 1 - digit) % m_levels;
}

std::string HistoryLayout::wordsOf(const std::vector<std::uint8_t> &symbols, std::uint8_t step) const
{
    const auto letter = [](std::uint8_t symbol) { return symbol == noSymbol ? '.' : char('0' + symbol); };
    std::string words;
    for (std::size_t k = m_before; k-- > 0;) // the earliest first
        if (!words.empty() || symbols[k] != noSymbol) words += letter(symbols[k]);
    words += letter(step / 16);
    words += '|';
    words += letter(step % 16);
    std::size_t behind = m_behind;
    while (behind > 0 && symbols[m_before + behind - 1] == noSymbol) --behind;
    for (std::size_t k = 0; k < behind; ++k) words += letter(symbols[m_before + k]);
    return words;
}

void HistorySums::merge(const HistorySums &later)
{
    if (later.cells.empty()) return;
    if (cells.empty()) {
        *this = later;
        return;
    }
    for (std::size_t i = 0; i < cells.size(); ++i) {
        cells[i].count += later.cells[i].count;
        cells[i].sum += later.cells[i].sum;
    }
    squares += later.squares;
}

HistorySums sumsByHistory(const Histories &histories, std::span<const double> errors, std::span<const float> without,
                          Progress &progress)
{
    const SampleRange known{std::int64_t(histories.firstKnown()), std::int64_t(histories.behindKnown())};
    constexpr std::int64_t fewest = 1 << 17, parts = 24;
    HistorySums sums = inChunksMerged<HistorySums>(
        known, std::max(fewest, known.size() / parts), progress, [&](SampleRange mine, HistorySums &part) {
            part.cells.resize(histories.layout().size());
            for (auto edge = std::size_t(mine.first); edge < std::size_t(mine.last); ++edge) {
                const double error = errors[edge] - (without.empty() ? 0 : without[edge]);
                HistorySums::Cell &cell = part.cells[histories.ofEdges()[edge]];
                ++cell.count;
                cell.sum += error;
                part.squares += error * error;
            }
        });
    sums.levels = histories.layout().levels();
    sums.cells.resize(histories.layout().size());
    return sums;
}

} // namespace fulvex
