#pragma once

#include "symbol_middles.h"
#include "transition_bands.h"

#include <vector>

namespace fulvex {

/// Looks for the transitions of a stretch of boundaries one by one, among the crossings of all bands: the plain version
/// of TransitionStretch, and for clocks that are too fast or too slow for it.
class TransitionSeeker {
public:
    /// `crossings`: of the record, by band.
    TransitionSeeker(const SampleSource &source, const UnitIntervalMap &map, const TransitionBands &bands,
                     const SymbolLevels &levels, const std::vector<EdgeList> &crossings)
        : m_map(map), m_bands(bands), m_levels(levels), m_crossings(crossings), m_reader(source, map)
    {
    }
    void seek(SampleRange boundaries, FoundTransitions &found);

private:
    double nearest(std::size_t band, double expected, bool rising) const;
    const UnitIntervalMap &m_map;
    const TransitionBands &m_bands;
    const SymbolLevels &m_levels;
    const std::vector<EdgeList> &m_crossings;
    SymbolMiddles m_reader;
    std::vector<std::uint8_t> m_symbols;
};

} // namespace fulvex
