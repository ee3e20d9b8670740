#include "fold_stretch.h"

#include "symbol_levels.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

Moments momentsOf(const LaneSums &sums, double origin)
{
    double count = 0, sum = 0, squares = 0;
    for (std::size_t lane = 0; lane < LaneSums::lanes; ++lane) {
        count += sums.count[lane];
        sum += sums.sum[lane];
        squares += sums.squares[lane];
    }
    if (count == 0) return {};
    const double mean = sum / count;
    return {count, origin + mean, std::max(0.0, squares - count * mean * mean), 0, 0};
}

/// Takes `first` off the positions of boundaries; slopes between them, and the first of so many samples at or behind
/// each. Whether these never step back.
FULVEX_WIDEST_VECTORS bool layBoundaries(double *positions, std::size_t count, double first, double samples,
                                         double *slopes, std::int32_t *starts)
{
    for (std::size_t n = 0; n < count; ++n) {
        positions[n] -= first;
        const double within = std::min(std::max(positions[n], 0.0), samples);
        const auto whole = std::int32_t(within);
        starts[n] = whole + (double(whole) < within);
    }
    bool ascends = true;
    for (std::size_t n = 0; n + 1 < count; ++n) {
        slopes[n] = 1 / (positions[n + 1] - positions[n]);
        ascends &= positions[n] <= positions[n + 1];
    }
    return ascends;
}

} // namespace

void Stretch::load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
                   std::span<const double> thresholds)
{
    constexpr std::int64_t margin = 2;
    m_own = margin;
    m_count = std::size_t(unitIntervals.size());
    const std::size_t boundaries = m_count + 2 * margin + 1;
    m_boundaries.resize(boundaries + FoldInput::padding);
    const std::span positions(m_boundaries.data(), boundaries);
    map.positionsOf(double(unitIntervals.first - margin), positions, &m_runs);
    if (m_runs.back() + 1 == boundaries) m_runs.pop_back(); // behind the last unit interval
    if (interpolation > 1) {
        for (double &position : positions) position *= interpolation;
    }
    const auto within = [&](double position) {
        return position > 0 ? std::int64_t(std::min(std::ceil(position), double(source.axis().count))) : 0;
    };
    m_first = within(positions.front());
    m_samples = std::size_t(std::max<std::int64_t>(0, within(positions.back()) - m_first));
    m_values.resize(m_samples + FoldInput::padding);
    if (m_samples) source.read(m_first, std::span(m_values.data(), m_samples));
    std::fill_n(m_values.begin() + std::ptrdiff_t(m_samples), FoldInput::padding,
                std::numeric_limits<double>::quiet_NaN());

    m_slopes.resize(boundaries - 1 + FoldInput::padding);
    m_starts.resize(boundaries);
    const bool ascends = layBoundaries(positions.data(), boundaries, double(m_first), double(m_samples),
                                       m_slopes.data(), m_starts.data());
    for (std::size_t n = 1; !ascends && n < boundaries; ++n) // never step back, whatever the clock does
        m_starts[n] = std::max(m_starts[n], m_starts[n - 1]);

    m_symbols.resize(boundaries - 1 + FoldInput::padding);
    decideSymbols(input(), thresholds, m_symbols.data());
    if (m_levels != thresholds.size() + 1) {
        m_levels = thresholds.size() + 1;
        layPairs();
    }
    listTransitions();
}

void Stretch::layPairs()
{
    m_pairOf.resize((m_levels + 1) * (m_levels + 1));
    for (std::size_t before = 0; before <= m_levels; ++before)
        for (std::size_t after = 0; after <= m_levels; ++after)
            m_pairOf[before * (m_levels + 1) + after] =
                before == after || before == m_levels || after == m_levels
                    ? std::uint8_t(pairs())
                    : std::uint8_t(EyeFold::Part::placeOf(before, after, m_levels));
}

/// Without a branch, since data are not to be foreseen: in the last list stands what is no transition.
void Stretch::listTransitions()
{
    m_listed.assign(pairs() + 1, 0);
    m_lists.resize((pairs() + 1) * m_count);
    for (std::size_t n = firstOwn(); n < lastOwn(); ++n) {
        const std::size_t pair = m_pairOf[m_symbols[n - 1] * (m_levels + 1) + m_symbols[n]];
        m_lists[pair * m_count + m_listed[pair]++] = std::uint32_t(n);
    }
}

void Stretch::fold(const FoldGrid &grid, double origin, std::uint32_t *counts, EyeFold::Part &part)
{
    part = EyeFold::Part(m_levels);
    m_cells.resize(std::size_t(samples().size()) + FoldInput::padding);
    std::array<LaneSums, mostSymbols> sums;
    const auto own = std::span(sums).first(m_levels);
    foldUnitIntervals(input(), firstOwn(), lastOwn(), grid, origin, m_cells.data(), own);
    for (std::size_t i = 0; i < m_levels; ++i) part.levels[i] = momentsOf(sums[i], origin);
    addTransitions(part);
    const std::span cells(m_cells.data(), std::size_t(samples().size()));
    for (const std::int32_t cell : cells) ++counts[cell];
}

void Stretch::addTransitions(EyeFold::Part &part) const
{
    for (std::size_t pair = 0; pair < pairs(); ++pair) {
        if (!m_listed[pair]) continue;
        std::array<PhaseBin, EyeFold::Trace::size> bins;
        fulvex::addTransitions(input(), std::span(m_lists).subspan(pair * m_count, m_listed[pair]),
                               EyeFold::Trace::reach, bins);
        EyeFold::Trace own;
        for (std::size_t i = 0; i < bins.size(); ++i) own.bins[i] = {bins[i].count, bins[i].phase, bins[i].value};
        part.traces[pair].merge(own);
    }
}

} // namespace fulvex
