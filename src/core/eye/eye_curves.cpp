#include "eye_curves.h"

#include "eye_runs.h"
#include "glances.h"
#include "lent_zeros.h"
#include "parallel.h"
#include "resampled_source.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>

namespace fulvex {

namespace {

constexpr int gap = -1;

/// The rows of a curve at places of its samples, on straight lines between them.
FULVEX_WIDEST_VECTORS void rowsAt(const double *positions, std::size_t size, const double *values, double perUnit,
                                  double bottom, double top, std::int32_t *rows)
{
    for (std::size_t i = 0; i < size; ++i) {
        const auto left = std::int32_t(positions[i]);
        const double value = values[left] + (values[left + 1] - values[left]) * (positions[i] - left);
        const double row = value * perUnit - bottom;
        const auto within = std::int32_t(row > 0 ? row < top ? row : top : 0.0);
        rows[i] = row == row ? within : gap;
    }
}

/// The cells of a curve in each column, from where it was in the column before: low <= row < high. None at a gap, and
/// only its own behind one. rows[-1] is read.
FULVEX_WIDEST_VECTORS void cellsOf(const std::int32_t *rows, std::size_t size, std::int32_t *lows, std::int32_t *highs)
{
    for (std::size_t i = 0; i < size; ++i) {
        const std::int32_t row = rows[i], before = rows[i - 1] == gap ? row : rows[i - 1];
        lows[i] = row == gap ? 0 : row <= before ? row : before + 1;
        highs[i] = row == gap ? 0 : (row >= before ? row : before - 1) + 1;
    }
}

/// Draws unit intervals one after the other into counts of its own.
class Pen {
public:
    explicit Pen(const EyeCounts &grid)
        : m_grid(grid), m_steps(std::size_t(grid.columns) * std::size_t(grid.rows.count + 1)),
          m_perUnit(1 / grid.rows.width())
    {
    }
    /// `lasts`: unit intervals to a curve, which begins where the one before ends.
    void draw(const SampleSource &source, const UnitIntervalMap &map, double perSample, SampleRange unitIntervals,
              std::size_t lasts = 1)
    {
        m_boundaries.resize(std::size_t(unitIntervals.size()) + 1);
        map.positionsOf(double(unitIntervals.first), m_boundaries);
        const auto within = [&](double position) {
            return std::int64_t(std::clamp(position, 0.0, double(source.axis().count)));
        };
        const std::int64_t first = within(std::floor(m_boundaries.front() * perSample)),
                           last = within(std::floor(m_boundaries.back() * perSample) + 2);
        if (last - first < 2) return;
        m_values.resize(std::size_t(last - first));
        source.read(first, m_values);
        for (const double value : m_values) {
            m_least = std::min(m_least, value); // NaN loses
            m_most = std::max(m_most, value);
        }
        for (double &boundary : m_boundaries) boundary = boundary * perSample - double(first);
        for (std::size_t n = 0; n + lasts < m_boundaries.size(); n += lasts)
            draw(std::span(m_boundaries).subspan(n, lasts + 1));
    }
    /// What was drawn, with a row more on either side: a value between two others may be rounded to beyond them, and
    /// what is lent is given back as zeros.
    EyeRows rows() const
    {
        if (!(m_least <= m_most)) return {};
        const auto rowOf = [&](double value) {
            return int(std::clamp(value * m_perUnit - double(m_grid.rows.first), 0.0, double(m_grid.rows.count - 1)));
        };
        return {std::max(rowOf(m_least) - 1, 0), std::min(rowOf(m_most) + 2, m_grid.rows.count)};
    }
    /// Adds what was drawn to rows of the grid from `first` on; there is nothing to draw on afterwards.
    void addTo(EyeCounts &picture, int first)
    {
        const auto columns = std::size_t(m_grid.columns), height = std::size_t(m_grid.rows.count + 1);
        const EyeRows rows = this->rows();
        std::vector<std::int64_t> pass(columns); // curves that pass a row, column by column
        std::int32_t *const all = steps();
        for (int row = rows.first; row < rows.last; ++row) {
            std::uint64_t *const counts = picture.counts.data() + std::size_t(row - first) * columns;
            for (std::size_t column = 0; column < columns; ++column) {
                pass[column] += all[column * height + std::size_t(row)];
                counts[column] += std::uint64_t(pass[column]);
            }
        }
        for (std::size_t column = 0; column < columns; ++column) {
            std::int32_t *const its = all + column * height;
            std::fill(its + rows.first, its + rows.last + 1, 0);
        }
        m_steps.giveBack();
    }

private:
    /// A curve, on straight lines of time between boundaries that share the columns out equally.
    void draw(std::span<const double> boundaries)
    {
        const auto lasts = boundaries.size() - 1, columns = std::size_t(m_grid.columns);
        m_positions.resize(columns);
        if (lasts == 1) {
            const double step = (boundaries[1] - boundaries[0]) / double(columns), start = boundaries[0] + 0.5 * step;
            for (std::size_t column = 0; column < columns; ++column)
                m_positions[column] = start + double(column) * step;
        } else {
            const double perColumn = double(lasts) / double(columns);
            for (std::size_t column = 0; column < columns; ++column) {
                const double ui = (double(column) + 0.5) * perColumn;
                const auto n = std::min(std::size_t(ui), lasts - 1);
                m_positions[column] = boundaries[n] + (ui - double(n)) * (boundaries[n + 1] - boundaries[n]);
            }
        }
        // Columns whose curve lies between samples that are there.
        std::size_t first = 0, last = columns;
        while (first < last && !(m_positions[first] >= 0)) ++first;
        while (last > first && !(m_positions[last - 1] < double(m_values.size() - 1))) --last;
        drawThrough(first, last - first);
    }
    void drawThrough(std::size_t first, std::size_t count)
    {
        for (auto *rows : {&m_rows, &m_lows, &m_highs}) rows->resize(count + 1);
        m_rows[0] = gap; // before the first
        rowsAt(m_positions.data() + first, count, m_values.data(), m_perUnit, double(m_grid.rows.first),
               double(m_grid.rows.count - 1), m_rows.data() + 1);
        cellsOf(m_rows.data() + 1, count, m_lows.data(), m_highs.data());
        const auto height = std::size_t(m_grid.rows.count + 1);
        std::int32_t *steps = this->steps() + first * height;
        for (std::size_t i = 0; i < count; ++i, steps += height) { // none: one more and one less, at the bottom
            ++steps[m_lows[i]];
            --steps[m_highs[i]];
        }
    }
    std::int32_t *steps() { return reinterpret_cast<std::int32_t *>(m_steps.all().data()); }
    const EyeCounts &m_grid;
    LentZeros m_steps; ///< column by column: how many more curves pass a row than the one below it
    double m_perUnit;
    double m_least = HUGE_VAL, m_most = -HUGE_VAL; ///< of all that was drawn
    std::vector<double> m_boundaries, m_values, m_positions;
    std::vector<std::int32_t> m_rows, m_lows, m_highs;
};

/// As many as there are, each drawn by `draw(source, perSample, pen, which)`: on all cores. `smooth`: points a unit
/// interval, between which straight lines pass for a curve.
template <typename Draw>
EyeCurves drawnOnAllCores(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, double smooth,
                          std::int64_t count, Progress &progress, const Draw &draw)
{
    const EyeCounts grid = rule.grid();
    const int perSample = std::max(rule.interpolation, int(std::ceil(smooth / map.period())));
    const SourcePtr source = upsampled(original, perSample);
    tbb::enumerable_thread_specific<Pen> pens([&] { return Pen(grid); });
    struct Nothing {};
    inChunks<Nothing>({0, count}, 32, progress, [&](SampleRange mine, Nothing &) {
        for (std::int64_t which = mine.first; which < mine.last; ++which)
            draw(*source, perSample, pens.local(), std::size_t(which));
        releaseGlances(*source, mine.size(), count);
    });
    EyeCurves curves{grid, 0};
    addUp(curves.counts, rule.room, pens, [](Pen &pen) -> Pen & { return pen; });
    return curves;
}

} // namespace

EyeCurves drawCurves(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                     Progress &progress)
{
    if (map.period() * rule.interpolation >= 2.0 * rule.columns) return {};
    const std::vector<SampleRange> runs = runsSpreadOver(map, {rule.first, rule.last}, most);
    EyeCurves curves = drawnOnAllCores(source, map, rule, smoothCurve, std::int64_t(runs.size()), progress,
                                       [&](const SampleSource &from, int perSample, Pen &pen, std::size_t which) {
                                           pen.draw(from, map, perSample, runs[which]);
                                       });
    for (const SampleRange &run : runs) curves.unitIntervals += run.size();
    return curves;
}

EyeCurves drawLaps(const SourcePtr &source, const UnitIntervalMap &map, const EyeRule &rule,
                   std::span<const std::int64_t> begins, Progress &progress)
{
    const auto lasts = std::size_t(rule.laps.lasts);
    if (map.period() * double(lasts) * rule.interpolation >= 2.0 * rule.columns) return {};
    const auto count = std::int64_t(begins.size()), shown = std::min(count, rule.curves);
    // A lap about an edge is one unit interval, but no less of a curve.
    const double smooth = std::max(smoothCurve, rule.columns / 2.0 / double(lasts));
    EyeCurves curves = drawnOnAllCores(source, map, rule, smooth, shown, progress,
                                       [&](const SampleSource &from, int perSample, Pen &pen, std::size_t which) {
                                           const std::int64_t begin =
                                               begins[std::size_t(std::int64_t(which) * count / shown)];
                                           pen.draw(from, map, perSample, {begin, begin + std::int64_t(lasts)}, lasts);
                                       });
    curves.unitIntervals = shown;
    return curves;
}

} // namespace fulvex
