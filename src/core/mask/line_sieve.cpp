#include "line_sieve.h"

#include "sieve_kernels.h"
#include "widest_vectors.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <utility>

namespace fulvex {

namespace {

static_assert(std::endian::native == std::endian::little); // bands are bytes of words
constexpr int pieces = 4, columns = SieveBands::columns;
/// The first and the last are all that lies below and above what is told apart. Gaps lie in one more, which is free
/// nowhere.
constexpr int rows = SieveBands::rows - 1, gap = rows;

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

} // namespace

LineSieve::LineSieve(double step, double low, double high)
    : m_bands(std::size_t(SieveBands::columns) * SieveBands::rows / 4), m_ofPieces(m_bands), m_low(low)
{
    constexpr double room = 1.03; // lines of a loop's unit intervals, which are not all as long
    m_longest = room * step;
    m_perValue = (rows - 2) / std::max(high - low, 1e-300);
}

void LineSieve::setAreas(const std::vector<MaskShape> &shapes)
{
    fill(m_bands, m_longest, shapes);
    fill(m_ofPieces, m_longest / pieces, shapes);
}

void LineSieve::fill(Bands &bands, double reach, const std::vector<MaskShape> &shapes) const
{
    constexpr double aside = 1e-5, above = 1e-6; // columns and rows, for rounding: of phases 1e-7 UI
    const auto rowOf = [&](double value, double more) {
        return int(std::clamp((value - m_low) * m_perValue + 1 + more, 0.0, rows - 1.0));
    };
    std::fill(bands.begin(), bands.end(), 0);
    auto *bytes = reinterpret_cast<std::uint8_t *>(bands.data());
    std::vector<std::pair<int, int>> taken; // rows, the last ones included
    for (int column = 0; column < columns; ++column, bytes += SieveBands::rows) {
        taken.clear();
        const double from = (column - aside) / columns, to = (column + 1 + aside) / columns + reach * (1 + aside);
        for (const MaskShape &shape : shapes) {
            for (double of = std::ceil(from - shape.right()); of <= to - shape.left(); ++of) { // unit intervals ahead
                const auto span = shape.spanWithin(from - of, to - of);
                if (!span) continue;
                taken.emplace_back(rowOf(span->first, -above), rowOf(span->second, above));
            }
        }
        std::sort(taken.begin(), taken.end());
        std::uint8_t band = 0;
        int row = 0; // that nothing is said of yet
        for (const auto &[first, last] : taken) {
            if (first > row) std::fill(bytes + row, bytes + first, ++band);
            row = std::max(row, last + 1); // zeros as they are
        }
        std::fill(bytes + row, bytes + rows, std::uint8_t(band + 1));
    }
}

std::span<const std::uint64_t> LineSieve::suspects(const PhasedSamples &at)
{
    if (at.there < 2) return {};
    const std::size_t lines = at.there - 1, words = (lines + 63) / 64;
    m_rows.resize(at.there + foldPadding);
    std::fill(m_rows.begin() + std::ptrdiff_t(at.there), m_rows.end(), 0); // vectors look up those as well
    m_suspects.resize(words + 1);
    const double offset = 1 - m_low * m_perValue;
    if (at.scale)
        rowsOf(at.codes.data() + at.thereFirst, at.there, at.scale->step * m_perValue,
               at.scale->offset * m_perValue + offset, m_rows.data());
    else
        rowsOf(at.values.data() + at.thereFirst, at.there, m_perValue, offset, m_rows.data());
    suspectLines({m_bands.data(), std::uint32_t(m_longest * ClockPhase::unitInterval)},
                 at.phases.data() + at.thereFirst, m_rows.data(), lines, m_suspects.data());
    if (lines % 64) m_suspects[words - 1] &= (std::uint64_t(1) << lines % 64) - 1;
    for (std::size_t w = 0; w < words; ++w) {
        for (std::uint64_t open = m_suspects[w]; open; open &= open - 1) {
            const std::size_t i = at.thereFirst + 64 * w + std::size_t(std::countr_zero(open));
            constexpr double ui = 1.0 / ClockPhase::unitInterval;
            const MaskPoint a{ui * at.phases[i], at.valueAt(i)};
            const MaskPoint b{a.x + ui * (at.phases[i + 1] - at.phases[i]), at.valueAt(i + 1)};
            if (isClear(a, b)) m_suspects[w] &= ~(open & -open);
        }
    }
    return std::span(m_suspects).first(words);
}

bool LineSieve::isClear(MaskPoint a, MaskPoint b) const
{
    if (!(b.x - a.x >= 0 && b.x - a.x <= m_longest) || std::isnan(a.y + b.y)) return false;
    const auto rowOf = [&](double value) {
        return std::size_t(std::clamp((value - m_low) * m_perValue + 1, 0.0, rows - 1.0));
    };
    const double start = std::floor(a.x), perPiece = 1.0 / pieces;
    std::size_t row = rowOf(a.y);
    for (int piece = 0; piece < pieces; ++piece) {
        const double x = a.x + (b.x - a.x) * perPiece * piece - start, in = x - std::floor(x);
        const std::size_t column = std::min(std::size_t(in * columns), std::size_t(columns - 1));
        const std::size_t next = rowOf(a.y + (b.y - a.y) * perPiece * (piece + 1));
        const auto *its = reinterpret_cast<const std::uint8_t *>(m_ofPieces.data()) + column * SieveBands::rows;
        if (its[row] == 0 || its[row] != its[next]) return false;
        row = next;
    }
    return true;
}

} // namespace fulvex
