#include "error_ratio.h"

#include "eye_runs.h"
#include "normal_distribution.h"
#include "parallel.h"
#include "resampled_source.h"
#include "symbol_levels.h"

#include <algorithm>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>

namespace fulvex {

namespace {

constexpr double seenEnough = 10; ///< times that tell a ratio
constexpr int ratioColumns = EyeErrorRatio::columns;

/// One side of an opening in one column: how much of a group of symbols lies at or beyond each row towards the other.
class Tail {
public:
    /// `counts` by row; `up`: what lies above a level is beyond it.
    Tail(std::vector<double> counts, bool up, double low, double height) : m_up(up), m_low(low), m_height(height)
    {
        const std::size_t rows = counts.size();
        m_beyond.assign(rows + 1, 0.0);
        if (up)
            for (std::size_t row = rows; row-- > 0;) m_beyond[row] = m_beyond[row + 1] + counts[row];
        else
            for (std::size_t row = 0; row < rows; ++row) m_beyond[row + 1] = m_beyond[row] + counts[row];
        m_all = up ? m_beyond.front() : m_beyond.back();
        fit();
    }
    double all() const { return m_all; }
    /// Where half of it lies beyond.
    double median() const
    {
        for (std::size_t border = 0; border < m_beyond.size(); ++border) {
            const double share = m_beyond[border] / std::max(1.0, m_all);
            if (m_up ? share <= 0.5 : share >= 0.5) return m_low + double(border) * m_height;
        }
        return m_low;
    }
    /// How many are expected beyond a level, and whether that was counted.
    std::pair<double, bool> at(double level) const
    {
        const double place = std::clamp((level - m_low) / m_height, 0.0, double(m_beyond.size() - 1));
        const auto border = std::min(std::size_t(place), m_beyond.size() - 2);
        const double part = place - double(border);
        const double counted = m_beyond[border] + part * (m_beyond[border + 1] - m_beyond[border]);
        if (counted >= seenEnough || !m_fitted) return {counted, counted >= seenEnough};
        return {m_all * normalTail(m_offset + m_slope * level), false};
    }

private:
    /// Deviations over levels, where few lie beyond but enough were seen. A count c is uncertain by its root, so are
    /// its deviations by about one part in its root: weights are counts.
    void fit()
    {
        double n = 0, x = 0, y = 0, xx = 0, xy = 0;
        constexpr double outermost = 0.05;
        for (std::size_t border = 0; border < m_beyond.size(); ++border) {
            const double counted = m_beyond[border];
            if (counted < seenEnough / 2 || counted > outermost * m_all) continue;
            const double level = m_low + double(border) * m_height, q = normalQuantile(counted / m_all);
            n += counted;
            x += counted * level;
            y += counted * q;
            xx += counted * level * level;
            xy += counted * level * q;
        }
        const double spread = n * xx - x * x;
        if (!(n > 0) || !(spread > 1e-9 * n * xx * 1e-6) || !(spread > 0)) return;
        m_slope = (n * xy - x * y) / spread;
        m_offset = (y - m_slope * x) / n;
        m_fitted = m_up ? m_slope > 0 : m_slope < 0;
    }
    bool m_up;
    double m_low, m_height, m_all = 0;
    std::vector<double> m_beyond; ///< by the lower border of each row, and the last one's upper
    bool m_fitted = false;
    double m_slope = 0, m_offset = 0;
};

/// Both sides of an opening in one column.
struct ColumnTails {
    ColumnTails(const EyeErrorRatio &of, int column, std::size_t opening)
        : below(side(of, column, 0, opening + 1, true)), above(side(of, column, opening + 1, of.symbols.size(), false))
    {
    }
    std::optional<EyeErrorRatio::Ratio> at(double level) const
    {
        const double all = below.all() + above.all();
        if (!(below.all() > 0) || !(above.all() > 0)) return {};
        const auto [high, highCounted] = below.at(level);
        const auto [low, lowCounted] = above.at(level);
        // What was counted tells alone where it is much more than what the other side's tail adds.
        const double sum = high + low, extrapolated = (highCounted ? 0 : high) + (lowCounted ? 0 : low);
        return EyeErrorRatio::Ratio{sum / all, sum > 0 && extrapolated <= 0.1 * sum};
    }
    static Tail side(const EyeErrorRatio &of, int column, std::size_t first, std::size_t last, bool up)
    {
        const NestedBins &rows = of.symbols.front().rows;
        std::vector<double> counts(std::size_t(rows.count), 0.0);
        for (std::size_t symbol = first; symbol < last; ++symbol)
            for (int row = 0; row < rows.count; ++row)
                counts[std::size_t(row)] += double(of.symbols[symbol].at(column, row));
        return Tail(std::move(counts), up, rows.low(), rows.width());
    }
    Tail below, above;
};

} // namespace

std::optional<EyeErrorRatio::Ratio> EyeErrorRatio::at(int column, double level, std::size_t opening) const
{
    if (column < 0 || column >= ratioColumns || opening + 1 >= symbols.size()) return {};
    return ColumnTails(*this, column, opening).at(level);
}

std::vector<std::pair<double, EyeErrorRatio::Ratio>> EyeErrorRatio::along(int column, std::size_t opening,
                                                                          int steps) const
{
    std::vector<std::pair<double, Ratio>> found;
    if (column < 0 || column >= ratioColumns || opening + 1 >= symbols.size()) return found;
    const ColumnTails tails(*this, column, opening);
    const double from = tails.below.median(), to = tails.above.median();
    for (int step = 0; to > from && step <= steps; ++step) {
        const double level = from + (to - from) * step / steps;
        const auto here = tails.at(level);
        if (!here) return {};
        found.emplace_back(level, *here);
    }
    return found;
}

EyeErrorRatio::Contour EyeErrorRatio::contour(double ratio, std::size_t opening) const
{
    Contour found{ratio, ratio * double(unitIntervals) >= seenEnough, {}};
    if (opening + 1 >= symbols.size()) return found;
    /// Between which levels of a column the ratio is as small.
    const auto within = [&](int column) -> std::optional<std::pair<double, double>> {
        const ColumnTails tails(*this, column, opening);
        const double from = tails.below.median(), to = tails.above.median();
        if (!(to > from)) return {};
        constexpr int steps = 256;
        const auto levelAt = [&](double step) { return from + (to - from) * step / steps; };
        std::vector<double> far(steps + 1); // by how many decades it lies above
        for (int step = 0; step <= steps; ++step) {
            const auto here = tails.at(levelAt(step));
            if (!here) return {};
            far[std::size_t(step)] = std::log10(std::max(here->value, 1e-300) / ratio);
        }
        const auto isIn = [](double decades) { return decades <= 0; };
        const auto first = std::find_if(far.begin(), far.end(), isIn);
        if (first == far.end()) return {};
        const auto last = std::find_if(far.rbegin(), far.rend(), isIn).base() - 1;
        const auto crossing = [&](std::ptrdiff_t outside, std::ptrdiff_t inside) {
            const double a = far[std::size_t(outside)], b = far[std::size_t(inside)];
            return levelAt(double(outside) + double(inside - outside) * a / (a - b));
        };
        const std::ptrdiff_t low = first - far.begin(), high = last - far.begin();
        return std::pair(low > 0 ? crossing(low - 1, low) : levelAt(0),
                         high < steps ? crossing(high + 1, high) : levelAt(steps));
    };
    const auto phaseOf = [](int column) { return (column + 0.5) / ratioColumns; };
    std::vector<std::pair<double, double>> bottom;
    const auto add = [&](int column) {
        const auto levels = within(column);
        if (!levels) return false;
        bottom.emplace_back(phaseOf(column), levels->first);
        found.points.emplace_back(phaseOf(column), levels->second);
        return true;
    };
    // From the middle outwards, as far as it is open.
    int left = ratioColumns / 2;
    while (left >= 0 && within(left)) --left;
    for (int column = left + 1; column < ratioColumns && add(column);) ++column;
    found.points.insert(found.points.end(), bottom.rbegin(), bottom.rend());
    return found;
}

namespace {

/// Counts curves one after the other.
class Counter {
public:
    Counter(const NestedBins &rows, std::size_t symbols)
        : m_rows(rows),
          m_counts(symbols, std::vector<std::uint32_t>(std::size_t(ratioColumns) * std::size_t(rows.count)))
    {
    }
    std::int64_t count(const SampleSource &source, const UnitIntervalMap &map, double perSample, SampleRange run,
                       const std::vector<double> &thresholds)
    {
        m_boundaries.resize(std::size_t(run.size()) + 1);
        map.positionsOf(double(run.first), m_boundaries);
        const double end = double(source.axis().count) - 1;
        const auto first = std::int64_t(std::clamp(std::floor(m_boundaries.front() * perSample), 0.0, end)),
                   last = std::int64_t(std::clamp(std::floor(m_boundaries.back() * perSample) + 2, 0.0, end + 1));
        if (last - first < 2) return 0;
        m_values.resize(std::size_t(last - first));
        source.read(first, m_values);
        std::int64_t counted = 0;
        for (std::size_t n = 0; n + 1 < m_boundaries.size(); ++n)
            counted += one(m_boundaries[n] * perSample - double(first), m_boundaries[n + 1] * perSample - double(first),
                           thresholds);
        return counted;
    }
    void addTo(std::vector<EyeCounts> &symbols) const
    {
        for (std::size_t symbol = 0; symbol < m_counts.size(); ++symbol)
            for (std::size_t i = 0; i < m_counts[symbol].size(); ++i) symbols[symbol].counts[i] += m_counts[symbol][i];
    }

private:
    double valueAt(double position) const
    {
        if (!(position >= 0) || !(position < double(m_values.size() - 1))) return std::nan("");
        const auto left = std::size_t(position);
        return m_values[left] + (m_values[left + 1] - m_values[left]) * (position - double(left));
    }
    bool one(double from, double to, const std::vector<double> &thresholds)
    {
        const double middle = valueAt((from + to) / 2);
        if (!(middle == middle)) return false;
        std::vector<std::uint32_t> &counts = m_counts[symbolOf(middle, thresholds)];
        const double step = (to - from) / ratioColumns, perUnit = 1 / m_rows.width();
        for (int column = 0; column < ratioColumns; ++column) {
            const double value = valueAt(from + (column + 0.5) * step);
            if (!(value == value)) continue;
            const auto row = std::int64_t(std::floor(value * perUnit)) - m_rows.first;
            ++counts[std::size_t(std::clamp<std::int64_t>(row, 0, m_rows.count - 1)) * std::size_t(ratioColumns) +
                     std::size_t(column)];
        }
        return true;
    }
    NestedBins m_rows;
    std::vector<std::vector<std::uint32_t>> m_counts;
    std::vector<double> m_boundaries, m_values;
};

} // namespace

EyeErrorRatio errorRatios(const SourcePtr &original, const UnitIntervalMap &map, const EyeRule &rule, std::int64_t most,
                          Progress &progress)
{
    EyeErrorRatio ratios;
    constexpr int rowsBetween = 1024;
    EyeCounts grid;
    grid.columns = ratioColumns;
    grid.least = rule.least;
    grid.most = rule.most;
    const double beside = 0.1 * (rule.most - rule.least);
    grid.rows = NestedBins::over(rule.least, rule.most, rowsBetween).covering(rule.least - beside, rule.most + beside);
    grid.counts.resize(std::size_t(ratioColumns) * std::size_t(grid.rows.count));
    ratios.symbols.assign(rule.thresholds.size() + 1, grid);
    // Twice as fine as curves are drawn: straight lines between points take off noise, which tails are made of.
    const int perSample = std::max(rule.interpolation, int(std::ceil(2 * smoothCurve / map.period())));
    const SourcePtr source = upsampled(original, perSample);
    const std::vector<SampleRange> runs = runsSpreadOver(map, {rule.first, rule.last}, most);
    tbb::enumerable_thread_specific<Counter> counters([&] { return Counter(grid.rows, ratios.symbols.size()); });
    struct Some {
        std::int64_t counted = 0;
        void merge(const Some &later) { counted += later.counted; }
    };
    ratios.unitIntervals =
        inChunksMerged<Some>({0, std::int64_t(runs.size())}, 32, progress, [&](SampleRange mine, Some &part) {
            for (std::int64_t run = mine.first; run < mine.last; ++run)
                part.counted +=
                    counters.local().count(*source, map, perSample, runs[std::size_t(run)], rule.thresholds);
        }).counted;
    for (const Counter &counter : counters) counter.addTo(ratios.symbols);
    return ratios;
}

} // namespace fulvex
