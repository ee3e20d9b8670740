#include "eye_curves.h"

#include "eye_runs.h"
#include "parallel.h"
#include "resampled_source.h"

#include <algorithm>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>

namespace fulvex {

namespace {

/// Draws unit intervals one after the other into counts of its own.
class Pen {
public:
    explicit Pen(const EyeCounts &grid)
        : m_grid(grid), m_steps(std::size_t(grid.columns) * std::size_t(grid.rows.count + 1)),
          m_perUnit(1 / grid.rows.width())
    {
    }
    void draw(const SampleSource &source, const UnitIntervalMap &map, double perSample, SampleRange unitIntervals)
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
        for (std::size_t n = 0; n + 1 < m_boundaries.size(); ++n)
            draw(m_boundaries[n] * perSample - double(first), m_boundaries[n + 1] * perSample - double(first));
    }
    void addTo(std::vector<std::uint64_t> &counts) const
    {
        const auto columns = std::size_t(m_grid.columns), rows = std::size_t(m_grid.rows.count);
        std::vector<std::int64_t> pass(columns); // curves that pass a row, column by column
        for (std::size_t row = 0; row < rows; ++row) {
            for (std::size_t column = 0; column < columns; ++column) {
                pass[column] += m_steps[column * (rows + 1) + row];
                counts[row * columns + column] += std::uint64_t(pass[column]);
            }
        }
    }

private:
    void draw(double from, double to)
    {
        const int columns = m_grid.columns;
        const double step = (to - from) / columns, start = from + 0.5 * step, end = double(m_values.size() - 1);
        // Columns whose curve lies between samples that are there.
        int first = 0, last = columns;
        while (first < last && !(start + first * step >= 0)) ++first;
        while (last > first && !(start + (last - 1) * step < end)) --last;
        const double *values = m_values.data();
        const double bottom = double(m_grid.rows.first), top = double(m_grid.rows.count - 1);
        m_rows.resize(std::size_t(columns));
        for (int column = first; column < last; ++column) {
            const double position = start + column * step;
            const int left = int(position);
            const double value = values[left] + (values[left + 1] - values[left]) * (position - left);
            const double row = value * m_perUnit - bottom;
            m_rows[std::size_t(column)] = row == row ? int(std::min(std::max(row, 0.0), top)) : gap;
        }
        int before = gap;
        const std::ptrdiff_t height = m_grid.rows.count + 1;
        std::int32_t *cells = m_steps.data() + first * height;
        for (int column = first; column < last; ++column, cells += height) {
            const int row = m_rows[std::size_t(column)];
            if (row != gap) {
                const int low = before == gap ? row : std::min(row, before + 1),
                          high = before == gap ? row : std::max(row, before - 1);
                ++cells[low];
                --cells[high + 1];
            }
            before = row;
        }
    }
    static constexpr int gap = -1;
    std::vector<int> m_rows;
    const EyeCounts &m_grid;
    std::vector<std::int32_t> m_steps; ///< column by column: how many more curves pass a row than the one below it
    double m_perUnit;
    std::vector<double> m_boundaries, m_values;
};

} // namespace

EyeCurves drawCurves(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                     Progress &progress)
{
    EyeCurves curves{EyeCounts::laidFor(rule.least, rule.most, rule.columns), 0};
    if (map.period() * rule.interpolation >= 2.0 * curves.counts.columns) return {};
    const int perSample = std::max(rule.interpolation, int(std::ceil(smoothCurve / map.period())));
    const SourcePtr source = upsampled(original, perSample);
    const std::vector<SampleRange> runs = runsSpreadOver(map, {rule.first, rule.last}, most);
    for (const SampleRange &run : runs) curves.unitIntervals += run.size();
    tbb::enumerable_thread_specific<Pen> pens([&] { return Pen(curves.counts); });
    struct Nothing {};
    inChunks<Nothing>({0, std::int64_t(runs.size())}, 32, progress, [&](SampleRange mine, Nothing &) {
        for (std::int64_t run = mine.first; run < mine.last; ++run)
            pens.local().draw(*source, map, perSample, runs[std::size_t(run)]);
    });
    for (const Pen &pen : pens) pen.addTo(curves.counts.counts);
    return curves;
}

} // namespace fulvex
