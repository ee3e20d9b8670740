#include "trace_shade.h"

#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <span>

namespace fulvex {

namespace {

/// Added up in eight lanes, as vectors do.
FULVEX_WIDEST_VECTORS float sumOf(const float *values, std::size_t size)
{
    constexpr std::size_t lanes = 8;
    float sums[lanes] = {};
    std::size_t i = 0;
    for (; i + lanes <= size; i += lanes)
        for (std::size_t lane = 0; lane < lanes; ++lane) sums[lane] += values[i + lane];
    for (; i < size; ++i) sums[0] += values[i];
    float all = 0;
    for (const float sum : sums) all += sum;
    return all;
}

FULVEX_WIDEST_VECTORS void addTo(float *__restrict sums, const float *__restrict values, std::size_t size, float times)
{
    for (std::size_t i = 0; i < size; ++i) sums[i] += times * values[i];
}

float within(float value, float most)
{
    const float above = value > 0 ? value : 0;
    return above < most ? above : most;
}

/// Each row's time becomes a mixture of its own and, where the signal is seldom, the mean over the `around` rows about
/// it; `below`: sums of all rows before, beginning that far above, to `wide` later.
FULVEX_WIDEST_VECTORS void smooth(float *__restrict times, const float *__restrict below,
                                  const float *__restrict around, std::size_t rows, std::size_t wide, float perEven,
                                  float scale)
{
    for (std::size_t i = 0; i < rows; ++i) {
        const float coarse = (below[i + wide] - below[i]) / around[i];
        const float own = within(coarse * perEven - 0.3f, 1); // where it is often, rows are told apart
        times[i] = own * times[i] + (1 - own) * coarse * scale;
    }
}

/// Steps from 0 to `last`, at density 1.
FULVEX_WIDEST_VECTORS void stepsOf(const float *__restrict times, std::size_t rows, float perEven, float last,
                                   std::int32_t *__restrict steps)
{
    for (std::size_t i = 0; i < rows; ++i) steps[i] = std::int32_t(within(times[i] * perEven * last, last));
}

/// A column's rows from the top, and for how long the signal is in each: sums of shares of a sample's time.
class Shader {
public:
    Shader(const TraceColumns &columns, double low, double high, int rows)
        : m_columns(columns), m_high(float(high)), m_scale(float(rows / (high - low))), m_rows(rows),
          m_time(std::size_t(rows) * columns.size()), m_tops(columns.size()), m_bottoms(columns.size(), -1),
          m_around(std::size_t(rows)), m_below(std::size_t(rows) + 2 * std::size_t(reach()) + 1)
    {
        for (int row = 0; row < rows; ++row)
            m_around[std::size_t(row)] = float(std::min(rows - 1, row + reach()) - std::max(0, row - reach()) + 1);
        layExtents();
        addTimes();
    }
    bool isEmpty(std::size_t column) const { return m_bottoms[column] < m_tops[column]; }
    int top(std::size_t column) const { return m_tops[column]; }
    int bottom(std::size_t column) const { return m_bottoms[column]; }
    /// For how long the signal is at each row of a column, smoothed: where it is seldom and only some samples are
    /// known, over more rows and columns. Columns are asked for one after the other.
    const std::vector<float> &timesAt(std::size_t column)
    {
        m_near.moveTo(column, *this);
        m_times = m_near.sums;
        if (m_columns.inOrder) return m_times;
        m_wide.moveTo(column, *this);
        addUp(m_wide.sums);
        // Counts are whole numbers: differences of sums are exact.
        const auto top = std::size_t(m_tops[column]), rows = std::size_t(m_bottoms[column]) + 1 - top;
        const float *const below = m_below.data() + top;
        const float all = below[std::size_t(reach()) + rows] - below[reach()];
        float *const times = m_times.data() + top;
        if (all > 0)
            smooth(times, below, m_around.data() + top, rows, std::size_t(2 * reach() + 1), float(rows) / all,
                   sumOf(times, rows) / all);
        return m_times;
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
    /// Of rows to either side, that a row where the signal is seldom is smoothed over.
    int reach() const { return std::max(1, m_rows / 20); }
    /// m_below[i]: all that is above row i - reach(), as if the rows went on without anything.
    void addUp(const std::vector<float> &sums)
    {
        const auto begin = m_below.begin() + reach() + 1;
        std::partial_sum(sums.begin(), sums.end(), begin);
        std::fill(begin + m_rows, m_below.end(), begin[m_rows - 1]);
    }
    int rowOf(float value) const { return int(std::clamp((m_high - value) * m_scale, 0.0f, float(m_rows - 1))); }
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
    /// Sums over the columns around one, moved along column by column.
    struct Window {
        explicit Window(std::size_t columns) : reach(columns) {}
        void moveTo(std::size_t column, const Shader &shader)
        {
            const auto rows = std::size_t(shader.m_rows);
            const auto add = [&](std::size_t c, float sign) {
                addTo(sums.data(), shader.m_time.data() + c * rows, rows, sign);
            };
            sums.resize(rows);
            for (; last < std::min(shader.m_columns.size(), column + reach + 1); ++last) add(last, 1);
            for (; first + reach < column; ++first) add(first, -1);
        }
        std::size_t reach, first = 0, last = 0; ///< columns first <= c < last
        std::vector<float> sums;
    };
    void addTimes()
    {
        const auto rows = std::size_t(m_rows);
        std::vector<float> shares(rows + 1); // of a sample's time, for each of so many rows
        for (std::size_t i = 1; i <= rows; ++i) shares[i] = 1.0f / float(i);
        std::vector<float> change(rows + 1);
        int before = m_columns.values.empty() ? 0 : rowOf(m_columns.values.front());
        for (std::size_t c = 0; c < m_columns.size(); ++c) {
            float *const time = m_time.data() + c * rows;
            const auto values = m_columns.valuesOf(c);
            if (!m_columns.inOrder) {
                for (const float value : values) ++time[rowOf(value)];
                continue;
            }
            // All samples: the straight line from one to the next passes its rows in equal times.
            std::fill(change.begin(), change.end(), 0.0f);
            for (const float value : values) {
                const int row = rowOf(value), upper = std::min(before, row), lower = std::max(before, row);
                const float share = shares[std::size_t(lower - upper + 1)];
                change[std::size_t(upper)] += share;
                change[std::size_t(lower) + 1] -= share;
                before = row;
            }
            float now = 0;
            for (std::size_t r = 0; r < rows; ++r) time[r] = now += change[r];
        }
    }
    const TraceColumns &m_columns;
    float m_high, m_scale; ///< rows per unit
    int m_rows;
    std::vector<float> m_time; ///< column by column
    std::vector<int> m_tops, m_bottoms;
    Window m_near{2}, m_wide{8};
    std::vector<float> m_times;
    std::vector<float> m_around, m_below; ///< per row: of how many it is smoothed over; see addUp
};

/// Opacities of rows, by for how long the signal is there: `perEven` times as long as if it were everywhere alike.
class Opacities {
public:
    Opacities()
    {
        for (std::size_t i = 0; i < m_steps.size(); ++i) {
            const double share = std::pow(double(i) / double(m_steps.size() - 1), 0.7);
            m_steps[i] = std::uint8_t(TraceShade::least + int((TraceShade::most - TraceShade::least) * share));
        }
    }
    void put(std::span<const float> times, float perEven, std::uint8_t *shade) const
    {
        std::array<std::int32_t, 256> places;
        for (std::size_t first = 0; first < times.size(); first += places.size()) {
            const std::size_t count = std::min(places.size(), times.size() - first);
            stepsOf(times.data() + first, count, perEven, float(m_steps.size() - 1), places.data());
            for (std::size_t i = 0; i < count; ++i) shade[first + i] = m_steps[std::size_t(places[i])];
        }
    }

private:
    std::array<std::uint8_t, 1024> m_steps;
};

} // namespace

QImage TraceShade::picture(const TraceColumns &columns, double low, double high, int rows, const QColor &ink)
{
    const auto count = int(columns.size());
    QImage image(std::max(1, count), std::max(1, rows), QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    if (count == 0 || rows <= 0 || !(high > low)) return image;
    static const Opacities opacities;
    Shader shader(columns, low, high, rows);
    QRgb inks[256];
    for (int alpha = 0; alpha < 256; ++alpha)
        inks[alpha] = qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(), alpha));
    std::vector<std::uint8_t> shades(std::size_t(count) * std::size_t(rows)); // column by column
    for (int c = 0; c < count; ++c) {
        const auto column = std::size_t(c);
        if (shader.isEmpty(column)) continue;
        const int top = shader.top(column), bottom = shader.bottom(column);
        const std::span times =
            std::span(shader.timesAt(column)).subspan(std::size_t(top), std::size_t(bottom - top + 1));
        const float sum = sumOf(times.data(), times.size());
        std::uint8_t *const shade = shades.data() + column * std::size_t(rows) + top;
        std::fill_n(shade, times.size(), std::uint8_t(TraceShade::rare));
        if (!(sum > 0)) continue;
        const auto [usualTop, usualBottom] = shader.usualRows(column);
        const int first = std::max(top, usualTop) - top, last = std::min(bottom, usualBottom) - top;
        if (first <= last)
            opacities.put(times.subspan(std::size_t(first), std::size_t(last - first + 1)), float(times.size()) / sum,
                          shade + first);
    }
    uchar *const bits = image.bits();
    const qsizetype bytesPerLine = image.bytesPerLine();
    constexpr int block = 16; // columns at a time, so that each line of the cache is used while it is there
    for (int from = 0; from < count; from += block) {
        for (int row = 0; row < rows; ++row) {
            auto *const line = reinterpret_cast<QRgb *>(bits + row * bytesPerLine);
            for (int c = from; c < std::min(count, from + block); ++c)
                line[c] = inks[shades[std::size_t(c) * std::size_t(rows) + std::size_t(row)]];
        }
    }
    return image;
}

} // namespace fulvex
