#include "line_sieve.h"

#include "sieve_kernels.h"
#include "widest_vectors.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>
#include <utility>

namespace fulvex {

namespace {

constexpr int columns = SieveLines::columns;
/// The first and the last are all that lies below and above what is told apart. Gaps lie in the very last one, which no
/// line that is clear ends at.
constexpr int rows = SieveLines::rows - SieveLines::rowsABit, gap = SieveLines::rows - 1;
constexpr int ends = rows / SieveLines::rowsABit; ///< that lines are told apart by
constexpr std::size_t tableSize = std::size_t(columns) * SieveLines::rows * SieveLines::wordsARow;
static_assert(std::endian::native == std::endian::little); // halves of words of 64 bits
constexpr double aside = 1e-5, slack = 1e-6;               ///< columns and rows, for rounding: of phases 1e-7 UI

template <typename Sample>
FULVEX_WIDEST_VECTORS void rowsOf(const Sample *samples, std::size_t size, double perSample, double offset,
                                  std::int32_t *places)
{
    for (std::size_t i = 0; i < size; ++i) {
        const double at = double(samples[i]) * perSample + offset, kept = at < rows - 1 ? at : rows - 1,
                     row = kept > 0 ? kept : 0;
        places[i] = std::int32_t(at == at ? row : gap);
    }
}

/// That lines have to exceed some value at a place along them, 0 being where they begin and 1 where they end.
struct Passage {
    double along, row;
    bool operator==(const Passage &) const = default;
};

/// Values counted in rows, the second row beginning at 0; and upside down, so that what is below is exceeded as well.
class RowScale {
public:
    RowScale(double low, double perValue) : m_low(low), m_perValue(perValue) {}
    double upwards(double value) const { return std::clamp((value - m_low) * m_perValue, -far, far); }
    double downwards(double value) const { return rows - 2 - upwards(value); }

private:
    static constexpr double far = 1e9; ///< which nothing that is told apart passes
    double m_low, m_perValue;
};

/// What lines have to exceed to pass above an area all along, or below: it suffices to do so where it has a corner, and
/// where they begin and end.
struct Passages {
    std::vector<Passage> above, below;
    bool operator==(const Passages &) const = default;

    /// Of lines that begin from `from` to `to`, in UI from where the area's unit interval begins, and are from
    /// `shortest` to `longest` long.
    void set(const MaskShape &shape, double from, double to, double shortest, double longest, const RowScale &scale)
    {
        above.clear();
        below.clear();
        const auto add = [&](double along, std::pair<double, double> span) {
            above.push_back({along, scale.upwards(span.second)});
            below.push_back({along, scale.downwards(span.first)});
        };
        const auto begin = shape.spanWithin(from, to), end = shape.spanWithin(from + shortest, to + longest);
        if (begin) add(0, *begin);
        if (end) add(1, *end);
        using Span = std::pair<double, double>;
        const Span least = begin && end ? Span(std::max(begin->first, end->first), std::min(begin->second, end->second))
                                        : Span(HUGE_VAL, -HUGE_VAL);
        for (const MaskPoint &corner : shape.points()) {
            if (!(corner.x >= from && corner.x <= to + longest)) continue;
            const double first = std::max(0.0, (corner.x - to) / longest),
                         last = std::min(1.0, (corner.x - from) / shortest);
            const auto span = shape.spanWithin(corner.x, corner.x);
            if (span->second <= least.second && span->first >= least.first) continue; // passed with begin and end
            add(first, *span);
            add(last, *span);
        }
    }
};

/// By the row that lines begin in, what they need to end beyond for all of them to exceed all.
FULVEX_WIDEST_VECTORS void neededEnds(const std::vector<Passage> &passages, double *needed)
{
    std::fill(needed, needed + rows, -HUGE_VAL);
    for (const Passage &passage : passages) {
        const double all = passage.row / passage.along, less = (1 - passage.along) / passage.along;
        if (passage.along > 0) {
            for (int row = 1; row < rows; ++row) {
                const double end = all - less * (row - 1 - slack);
                needed[row] = end > needed[row] ? end : needed[row];
            }
        } else {
            for (int row = 1; row < rows; ++row) needed[row] = row - 1 - slack > passage.row ? needed[row] : HUGE_VAL;
        }
        // Lines of the first row begin anywhere below.
        needed[0] = passage.along < 1 ? HUGE_VAL : std::max(needed[0], all);
    }
}

/// By the row that lines begin in, a bit for each end of those that pass above or below an area by what they need.
FULVEX_WIDEST_VECTORS void passingEnds(const double *above, const double *below, std::uint64_t *passing)
{
    // The first end that passes: the very first is below all and passes nothing, the second begins at 1.
    std::int32_t up[rows], down[rows];
    for (int row = 0; row < rows; ++row) {
        const double end = above[row] / 2 + 1.5 + slack, kept = end < ends ? end : ends;
        up[row] = std::int32_t(kept > 1 ? kept : 1);
    }
    for (int row = 0; row < rows; ++row) {
        const double end = below[row] / 2 + 1.5 + slack, kept = end < ends ? end : ends;
        down[rows - 1 - row] = ends - std::int32_t(kept > 1 ? kept : 1);
    }
    for (int row = 0; row < rows; ++row)
        passing[row] = ~std::uint64_t(0) << up[row] | ((std::uint64_t(1) << down[row]) - 1);
}

/// Which lines of a column pass an area.
struct WayPast {
    Passages passages;
    std::uint64_t passing[rows] = {}; ///< see passingEnds()

    /// Limits that are as high all along need it once for all columns.
    void set(Passages &others)
    {
        if (others == passages) return;
        std::swap(passages, others);
        double above[rows], below[rows];
        neededEnds(passages.above, above);
        neededEnds(passages.below, below);
        passingEnds(above, below, passing);
    }
};

} // namespace

LineSieve::LineSieve(double step, const std::vector<MaskShape> &areas) : m_clear(tableSize)
{
    constexpr double room = 1.03; // lines of a loop's unit intervals, which are not all as long
    m_shortest = step / room;
    m_longest = step * room;
    double low = HUGE_VAL, high = -HUGE_VAL;
    for (const MaskShape &area : areas) {
        for (const double edge : {area.bottom(), area.top()}) {
            if (!std::isfinite(edge)) continue;
            low = std::min(low, edge);
            high = std::max(high, edge);
        }
    }
    if (!(low <= high)) low = high = 0;          // of no area all is clear
    constexpr int beyond = SieveLines::rowsABit; // rows, so that ends are told apart from those that touch areas
    m_perValue = (rows - 2 - 2 * beyond) / std::max(high - low, 1e-300);
    m_low = low - beyond / m_perValue;

    const RowScale scale(m_low, m_perValue);
    const double shortest = m_shortest * (1 - aside), longest = m_longest * (1 + aside);
    Passages passages;
    std::vector<WayPast> ways(areas.size());
    for (int column = 0; column < columns; ++column) {
        std::uint64_t clear[SieveLines::rows] = {};
        std::fill(clear, clear + rows, ~(std::uint64_t(1) << ends));
        const double from = (column - aside) / columns, to = (column + 1 + aside) / columns;
        for (std::size_t i = 0; i < areas.size(); ++i) {
            const MaskShape &area = areas[i];
            for (double of = std::ceil(from - area.right()); of <= to + longest - area.left(); ++of) { // UI ahead
                passages.set(area, from - of, to - of, shortest, longest, scale);
                if (passages.above.empty()) continue;
                ways[i].set(passages);
                for (int row = 0; row < rows; ++row) clear[row] &= ways[i].passing[row];
            }
        }
        std::memcpy(m_clear.data() + column * SieveLines::rows * SieveLines::wordsARow, clear, sizeof(clear));
    }
}

std::span<const std::uint64_t> LineSieve::suspects(const PhasedSamples &at, Found &found) const
{
    if (at.there < 2) return {};
    const std::size_t lines = at.there - 1, words = (lines + 63) / 64;
    found.rows.resize(at.there + lanePadding);
    std::fill(found.rows.begin() + std::ptrdiff_t(at.there), found.rows.end(), 0); // vectors look up those as well
    found.suspects.resize(words + 1);
    const double offset = 1 - m_low * m_perValue;
    const CodeScale scale = at.scale.value_or(CodeScale{1, 0}); // values are their own
    at.visit([&](const auto *samples) {
        rowsOf(samples + at.thereFirst, at.there, scale.step * m_perValue, scale.offset * m_perValue + offset,
               found.rows.data());
    });
    const auto phase = [](double ui) { return std::uint32_t(ui * ClockPhase::unitInterval); };
    suspectLines({m_clear.data(), phase(m_shortest), phase(m_longest)}, at.phases.data() + at.thereFirst,
                 found.rows.data(), lines, found.suspects.data());
    if (lines % 64) found.suspects[words - 1] &= (std::uint64_t(1) << lines % 64) - 1;
    return std::span(found.suspects).first(words);
}

bool LineSieve::isClear(MaskPoint a, MaskPoint b) const
{
    if (!(b.x - a.x >= m_shortest && b.x - a.x <= m_longest) || std::isnan(a.y + b.y)) return false;
    const auto rowOf = [&](double value) {
        return std::size_t(std::clamp((value - m_low) * m_perValue + 1, 0.0, rows - 1.0));
    };
    const auto column = std::min(std::size_t((a.x - std::floor(a.x)) * columns), std::size_t(columns - 1));
    const std::size_t end = rowOf(b.y) / SieveLines::rowsABit;
    const std::size_t row = column * SieveLines::rows + rowOf(a.y);
    return m_clear[row * SieveLines::wordsARow + end / SieveLines::bits] >> end % SieveLines::bits & 1;
}

} // namespace fulvex
