#pragma once

#include "confirmed_passages.h"
#include "phased_samples.h"
#include "symbol_middles.h"
#include "symbol_words.h"
#include "transition_bands.h"

#include <array>
#include <vector>

namespace fulvex {

/// Looks for the transitions of a stretch of boundaries, in passes that vectors do: which ones are wanted, and where
/// each band is crossed, are bits a sample. The middles of unit intervals part the samples into those about one
/// boundary each; where one of these has exactly one crossing of the band and direction that is wanted there, and near
/// enough, that is its instant. The others are looked at one by one. Kept by a core from stretch to stretch for its
/// room.
class TransitionStretch {
public:
    /// A unit interval of the map has `shortest` samples at least, and PhasedSamples::longest at most.
    static constexpr double shortest = 2;
    TransitionStretch(const SampleSource &source, const UnitIntervalMap &map, const TransitionBands &bands,
                      const SymbolLevels &levels)
        : m_source(source), m_map(map), m_bands(bands), m_levels(levels), m_reader(source, map),
          m_passages(bands.levels().size())
    {
        layKinds();
    }
    void seek(SampleRange boundaries, FoundTransitions &found);

private:
    void layKinds();
    bool load(SampleRange boundaries);
    void decideSymbols(SampleRange boundaries);
    bool list(std::size_t count);
    void findPassages(SampleRange boundaries);
    void findPassages(std::size_t band, SampleRange asked);
    void matchPlaces();
    void layPositions();
    void lookAtOthers();
    void giveTo(FoundTransitions &found) const;
    double nearest(std::size_t transition, double expected) const;
    std::uint8_t bandOf(std::size_t transition) const { return m_kinds[m_steps[transition]] / 2; }
    bool isRising(std::size_t transition) const { return m_kinds[m_steps[transition]] & 1; }
    double positionAt(std::int64_t place, double mid) const;
    std::int64_t placeOf(std::size_t word) const { return std::int64_t(word) * 64; }

    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    const TransitionBands &m_bands;
    const SymbolLevels &m_levels;
    SymbolMiddles m_reader;
    PhasedSamples m_at;
    std::vector<ConfirmedPassages> m_passages; ///< by band
    std::vector<CrossingMasks> m_masks;
    std::vector<std::uint8_t> m_symbols;   ///< of the unit intervals of the stretch and its margin
    std::array<std::uint8_t, 256> m_kinds; ///< of steps: twice the band, + 1 where it rises; or that it is none
    std::array<double, 256> m_mids;        ///< of steps
    RawVector<std::uint8_t> m_wanted;      ///< such a kind a boundary, those of the margin as well
    // Column by column, what transitions are wanted:
    RawVector<std::int32_t> m_boundaries; ///< counted from the first
    RawVector<std::uint8_t> m_steps;      ///< see EdgeList::steps
    std::vector<std::size_t> m_gaps;      ///< before which of them symbols are not known
    std::size_t m_firstMiddle = 0;        ///< the unit interval of the first middle, which is its boundary's as well
    SampleRange m_there;                  ///< samples of the record
    BitRow m_row, m_open;
    std::vector<std::uint64_t> m_middles, m_about, m_crossings, m_ends, m_doubts;
    bool m_isDoubtful = false;
    std::vector<std::vector<std::uint64_t>> m_atLeast, m_below; ///< by threshold
    RawVector<std::int32_t> m_places, m_endPlaces;
    std::vector<double> m_expected; ///< samples, of the boundaries and one to either side
    std::vector<double> m_positions;
    // Unit intervals whose symbols are not told by the samples beside their middles:
    std::vector<std::int32_t> m_openOnes;
    std::vector<double> m_openPlaces; ///< samples
    std::vector<std::uint8_t> m_openSymbols;
};

} // namespace fulvex
