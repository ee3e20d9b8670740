#include "eye_counts.h"

#include "widest_vectors.h"

#include <cassert>

namespace fulvex {

EyeCounts EyeCounts::laidOut(double least, double most, int columns, int rows)
{
    EyeCounts grid;
    grid.columns = columns;
    grid.across = rows;
    grid.least = least;
    grid.most = most;
    const double span = most - least;
    grid.rows = NestedBins::over(least, most, rows).covering(least - span, most + span);
    return grid;
}

EyeCounts EyeCounts::laidFor(double least, double most, int columns, int rows)
{
    EyeCounts grid = laidOut(least, most, columns, rows);
    grid.counts.resize(grid.cells());
    return grid;
}

/// Without a way out at the first count, so that vectors look: most rows are empty.
template <typename Count>
FULVEX_WIDEST_VECTORS static bool areNone(const Count *counts, std::size_t size)
{
    Count any = 0;
    for (std::size_t i = 0; i < size; ++i) any |= counts[i];
    return any == 0;
}

template <typename Count>
static EyeRows countedRows(const Count *counts, std::size_t columns, int rows)
{
    const auto isEmpty = [&](int row) { return areNone(counts + std::size_t(row) * columns, columns); };
    EyeRows some{0, rows};
    while (!some.empty() && isEmpty(some.first)) ++some.first;
    while (!some.empty() && isEmpty(some.last - 1)) --some.last;
    return some;
}

EyeRows EyeCounts::counted() const
{
    return counts.empty() ? EyeRows{} : countedRows(counts.data(), std::size_t(columns), rows.count);
}

void EyeCounts::keep(EyeRows some)
{
    assert(counts.empty());
    rows.first += some.first;
    rows.count = std::max(1, some.last - some.first);
    counts.resize(cells());
}

template <typename Count>
FULVEX_WIDEST_VECTORS static void addTo(std::uint64_t *sums, const Count *counts, std::size_t size)
{
    for (std::size_t i = 0; i < size; ++i) sums[i] += counts[i];
}

void EyeCounts::add(const EyeCounts &other, EyeRows counted)
{
    for (int row = counted.first; row < counted.last; ++row) {
        const auto width = std::size_t(columns);
        addTo(counts.data() + std::size_t(rows.binOf(other.rows, row)) * width,
              other.counts.data() + std::size_t(row) * width, width);
    }
}

EyeCounts EyeCounts::merged(const std::vector<const EyeCounts *> &some, Room room)
{
    std::vector<const EyeCounts *> there;
    double least = 0, most = 0;
    for (const EyeCounts *one : some) {
        if (one->counts.empty()) continue;
        least = there.empty() ? one->least : std::min(least, one->least);
        most = there.empty() ? one->most : std::max(most, one->most);
        there.push_back(one);
    }
    if (there.empty()) return {};
    EyeCounts all = laidOut(least, most, there.front()->columns, there.front()->across);
    std::vector<EyeRows> counted;
    EyeRows rows = room == Room::laid ? EyeRows{0, all.rows.count} : EyeRows{};
    for (const EyeCounts *one : there) {
        const EyeRows own = counted.emplace_back(one->counted());
        const auto rowOf = [&](int row) { return int(all.rows.binOf(one->rows, row)); };
        if (!own.empty()) rows = rows.with({rowOf(own.first), rowOf(own.last - 1) + 1});
    }
    all.keep(rows);
    for (std::size_t i = 0; i < there.size(); ++i) all.add(*there[i], counted[i]);
    return all;
}

std::uint32_t *EyeCounter::expect(std::int64_t samples)
{
    if ((m_counted += samples) >= std::int64_t(1) << 32) {
        m_emptied.resize(m_counts.all().size() - 1);
        moveTo(m_emptied, 0);
        m_counted = samples;
    }
    return m_counts.all().data();
}

EyeRows EyeCounter::rows() const
{
    if (!m_emptied.empty()) return {0, m_rows};
    return countedRows(m_counts.all().data(), m_columns, m_rows);
}

void EyeCounter::addTo(EyeCounts &picture, int first)
{
    const std::size_t from = std::size_t(first) * m_columns;
    for (std::size_t i = from; i < m_emptied.size(); ++i) picture.counts[i - from] += m_emptied[i];
    moveTo(picture.counts, from);
    m_counts.giveBack();
}

/// To all the counts there are, from a cell on; there are none in other cells.
void EyeCounter::moveTo(std::vector<std::uint64_t> &counts, std::size_t first)
{
    std::uint32_t *const own = m_counts.all().data() + first;
    constexpr std::size_t some = 512;
    for (std::size_t begin = 0; begin < counts.size(); begin += some) {
        const std::size_t size = std::min(some, counts.size() - begin);
        if (areNone(own + begin, size)) continue;
        fulvex::addTo(counts.data() + begin, own + begin, size);
        std::fill_n(own + begin, size, 0);
    }
    m_counts.all().back() = 0;
}

} // namespace fulvex
