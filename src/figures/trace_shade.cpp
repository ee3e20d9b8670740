#include "trace_shade.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

/// A column's rows from the top, and for how long the signal is in each: sums of shares of a sample's time.
class Shader {
public:
    Shader(const TraceColumns &columns, double low, double high, int rows)
        : m_columns(columns), m_low(low), m_scale(rows / (high - low)), m_rows(rows),
          m_time(std::size_t(rows) * columns.size()), m_tops(columns.size()), m_bottoms(columns.size(), -1)
    {
        layExtents();
        addTimes();
    }
    bool isEmpty(std::size_t column) const { return m_bottoms[column] < m_tops[column]; }
    int top(std::size_t column) const { return m_tops[column]; }
    int bottom(std::size_t column) const { return m_bottoms[column]; }
    /// For how long the signal is at each row of a column, smoothed: where it is seldom and only some samples are
    /// known, over more rows and columns.
    void timesAt(std::size_t column, std::vector<double> &times) const
    {
        sumAround(column, 2, times);
        if (m_columns.inOrder) return;
        thread_local std::vector<double> wide;
        wide.resize(times.size());
        sumAround(column, 8, wide);
        const int reach = std::max(1, m_rows / 20);
        double all = 0, near = 0;
        for (int row = m_tops[column]; row <= m_bottoms[column]; ++row) {
            all += wide[std::size_t(row)];
            near += times[std::size_t(row)];
        }
        const double even = all / (m_bottoms[column] - m_tops[column] + 1), scale = all > 0 ? near / all : 0;
        double sum = 0; // of the rows first to last
        int first = 0, last = -1;
        for (int row = 0; row < m_rows; ++row) {
            while (last < std::min(m_rows - 1, row + reach)) sum += wide[std::size_t(++last)];
            while (first < row - reach) sum -= wide[std::size_t(first++)];
            const double coarse = sum / (last - first + 1);
            const double often = std::clamp(coarse / even - 0.3, 0.0, 1.0); // there its own rows are told apart
            times[std::size_t(row)] = often * times[std::size_t(row)] + (1 - often) * coarse * scale;
        }
    }

    /// From where to where more than a third of the columns around one reach: beyond it are excursions, whose extremes
    /// may stand in two columns, as pyramid blocks do.
    std::pair<int, int> usualRows(std::size_t column) const
    {
        constexpr std::size_t reach = 6, third = 4;
        std::array<int, 2 * reach + 1> tops, bottoms;
        std::size_t count = 0;
        const std::size_t last = std::min(m_columns.size() - 1, column + reach);
        for (std::size_t c = column < reach ? 0 : column - reach; c <= last; ++c) {
            if (isEmpty(c)) continue;
            tops[count] = m_tops[c];
            bottoms[count++] = m_bottoms[c];
        }
        if (count <= third) return {0, m_rows};
        std::nth_element(tops.begin(), tops.begin() + third, tops.begin() + std::ptrdiff_t(count));
        std::nth_element(bottoms.begin(), bottoms.begin() + std::ptrdiff_t(count - 1 - third),
                         bottoms.begin() + std::ptrdiff_t(count));
        return {tops[third], bottoms[count - 1 - third]};
    }

private:
    int rowOf(double value) const
    {
        return int(std::clamp((m_low - value) * m_scale + m_rows, 0.0, double(m_rows - 1)));
    }
    void layExtents()
    {
        Extent before = Extent::nothing();
        for (std::size_t c = 0; c < m_columns.size(); ++c) {
            Extent now = m_columns.extents[c];
            if (!now.empty()) {
                const Extent own = now;
                if (!before.empty()) { // drawn to meet its neighbour, so that steep traces stay whole
                    now.high = std::max(now.high, before.low);
                    now.low = std::min(now.low, before.high);
                }
                m_tops[c] = rowOf(now.high);
                m_bottoms[c] = rowOf(now.low);
                now = own;
            }
            before = now;
        }
    }
    void sumAround(std::size_t column, std::size_t reach, std::vector<double> &times) const
    {
        std::fill(times.begin(), times.end(), 0);
        const std::size_t last = std::min(m_columns.size() - 1, column + reach);
        for (std::size_t c = column < reach ? 0 : column - reach; c <= last; ++c) {
            const double *const own = m_time.data() + c * std::size_t(m_rows);
            for (int row = 0; row < m_rows; ++row) times[std::size_t(row)] += own[row];
        }
    }
    void addTimes()
    {
        std::vector<double> change(std::size_t(m_rows) + 1);
        for (std::size_t c = 0; c < m_columns.size(); ++c) {
            double *const time = m_time.data() + c * std::size_t(m_rows);
            const auto values = m_columns.valuesOf(c);
            if (!m_columns.inOrder) {
                for (const float value : values) {
                    const int row = rowOf(value);
                    for (int r = std::max(0, row - 1); r <= std::min(m_rows - 1, row + 1); ++r) time[r] += 1.0 / 3;
                }
                continue;
            }
            // All samples: the straight line from one to the next passes its rows in equal times.
            std::fill(change.begin(), change.end(), 0);
            const std::size_t start = m_columns.starts[c], end = m_columns.starts[c + 1];
            for (std::size_t i = start == 0 ? 1 : start; i < end; ++i) {
                const int a = rowOf(m_columns.values[i - 1]), b = rowOf(m_columns.values[i]);
                const int upper = std::min(a, b), lower = std::max(a, b);
                const double share = 1.0 / (lower - upper + 1);
                change[std::size_t(upper)] += share;
                change[std::size_t(lower) + 1] -= share;
            }
            double now = 0;
            for (int r = 0; r < m_rows; ++r) time[r] = now += change[std::size_t(r)];
        }
    }
    const TraceColumns &m_columns;
    double m_low, m_scale;
    int m_rows;
    std::vector<double> m_time; ///< column by column
    std::vector<int> m_tops, m_bottoms;
};

/// Opacity at a row where the signal is `density` times as long as if it were everywhere alike.
int opacityOf(double density)
{
    const double share = std::clamp(std::pow(std::max(density, 0.0), 0.7), 0.0, 1.0);
    return TraceShade::least + int((TraceShade::most - TraceShade::least) * share);
}

} // namespace

QImage TraceShade::picture(const TraceColumns &columns, double low, double high, int rows, const QColor &ink)
{
    const auto count = int(columns.size());
    QImage image(std::max(1, count), std::max(1, rows), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    if (count == 0 || rows <= 0 || !(high > low)) return image;
    const Shader shader(columns, low, high, rows);
    QRgb inks[256];
    for (int alpha = 0; alpha < 256; ++alpha)
        inks[alpha] = qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(), alpha));
    std::vector<double> times(static_cast<std::size_t>(rows));
    for (int c = 0; c < count; ++c) {
        const auto column = std::size_t(c);
        if (shader.isEmpty(column)) continue;
        const int top = shader.top(column), bottom = shader.bottom(column);
        shader.timesAt(column, times);
        const double sum = std::accumulate(times.begin() + top, times.begin() + bottom + 1, 0.0);
        const double even = sum / (bottom - top + 1);
        const auto [usualTop, usualBottom] = shader.usualRows(column);
        for (int row = top; row <= bottom; ++row) {
            int opacity = even > 0 ? opacityOf(times[std::size_t(row)] / even) : TraceShade::most;
            if (row < usualTop || row > usualBottom) opacity = std::max(opacity, TraceShade::rare);
            reinterpret_cast<QRgb *>(image.scanLine(row))[c] = inks[opacity];
        }
    }
    return image;
}

} // namespace fulvex
