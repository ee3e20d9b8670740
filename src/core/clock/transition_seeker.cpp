#include "transition_seeker.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

/// The crossing nearest to where one is expected, within reach; NaN where there is none.
double TransitionSeeker::nearest(std::size_t band, double expected, bool rising) const
{
    const EdgeList &edges = m_crossings[band];
    const double reach = transitionReach * m_map.period(), from = expected - reach, to = expected + reach;
    const auto begin = edges.positions.begin();
    double best = std::numeric_limits<double>::quiet_NaN();
    for (auto i = std::size_t(std::lower_bound(begin, edges.positions.end(), from) - begin);
         i < edges.size() && edges.positions[i] <= to; ++i) {
        if (edges.isRising(i) != rising) continue;
        if (!(std::abs(edges.positions[i] - expected) >= std::abs(best - expected))) best = edges.positions[i];
    }
    return best;
}

void TransitionSeeker::seek(SampleRange boundaries, FoundTransitions &found)
{
    const auto count = std::size_t(boundaries.size());
    m_symbols.resize(count + 1);
    m_reader.symbols(boundaries.first - 1, m_levels.thresholds, m_symbols);
    found.resize(count);
    found.gap = m_symbols[0] == unknownSymbol;
    std::size_t size = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const std::uint8_t from = m_symbols[i], to = m_symbols[i + 1];
        const bool rising = to > from;
        found.gap |= from == unknownSymbol || to == unknownSymbol;
        if (from == to || from == unknownSymbol || to == unknownSymbol) continue;
        const std::uint8_t band = m_bands.of(from, to);
        const double position = nearest(band, m_map.positionOf(double(boundaries.first + std::int64_t(i))), rising);
        if (!(position == position)) continue;
        found.edges.positions[size] = position;
        found.edges.flags[size] = std::uint8_t(rising * EdgeList::rising | found.gap * EdgeList::afterGap);
        found.edges.steps[size] = std::uint8_t(from * mostSymbols + to);
        ++size;
        found.gap = false;
    }
    found.resize(size);
}

} // namespace fulvex
