#pragma once

#include "confirmed_passages.h"
#include "sinc_kernel.h"
#include "stretch_samples.h"
#include "symbol_middles.h"
#include "symbol_words.h"
#include "transition_bands.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <vector>

namespace fulvex {

/// Looks for the transitions of a stretch of boundaries, in passes that vectors do: which ones are wanted, and where
/// each band is crossed, are bits a sample. The middles of unit intervals part the samples into those about one
/// boundary each; where one of these has exactly one crossing of the band and direction that is wanted there, that is
/// its instant. If all have, and none so near a middle that it might lie behind it, the crossings' order is that of the
/// boundaries; else each is looked at, and what is in doubt is sought one by one. Kept by a core from stretch to
/// stretch for its room.
class TransitionStretch {
public:
    /// A unit interval of the map has `shortest` samples at least, and StretchSamples::longest at most.
    static constexpr double shortest = 2;
    TransitionStretch(const SampleSource &source, const UnitIntervalMap &map, const TransitionBands &bands,
                      const SymbolLevels &levels)
        : m_source(source), m_map(map), m_bands(bands), m_levels(levels), m_reader(source, map),
          m_passages(bands.levels().size()),
          m_margin(2 + std::int64_t(std::ceil(SincKernel::taps / std::max(map.period(), shortest))))
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
    bool areByTurns() const;
    void matchPlaces(std::size_t crossings);
    void layPositions(std::span<double> positions) const;
    void lookAtOthers(SampleRange boundaries, std::span<double> positions);
    void giveTo(SampleRange boundaries, FoundTransitions &found);
    void keepFound(FoundTransitions &found) const;
    double nearest(std::uint8_t step, double expected) const;
    std::uint8_t bandOf(std::uint8_t step) const { return m_kinds[step] / 2; }
    bool isRising(std::uint8_t step) const { return m_kinds[step] & 1; }
    double positionAt(std::int64_t place, double mid) const;
    std::int64_t placeOf(std::size_t word) const { return std::int64_t(word) * 64; }

    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    const TransitionBands &m_bands;
    const SymbolLevels &m_levels;
    SymbolMiddles m_reader;
    StretchSamples m_at;
    std::vector<double> m_centres;             ///< samples: middles of unit intervals, those of the margin as well
    std::vector<ConfirmedPassages> m_passages; ///< by band
    std::int64_t m_margin;                     ///< unit intervals to either side, whose samples interpolation needs
    std::vector<CrossingMasks> m_masks;
    std::vector<std::uint8_t> m_symbols;   ///< of the unit intervals of the stretch and its margin
    std::array<std::uint8_t, 256> m_kinds; ///< of steps: twice the band, + 1 where it rises; or that it is none
    std::array<double, 256> m_mids;        ///< of steps
    RawVector<std::uint8_t> m_wanted;      ///< such a kind a boundary, those of the margin as well
    RawVector<std::uint8_t> m_steps;       ///< of the transitions that are wanted; see EdgeList::steps
    std::vector<std::size_t> m_gaps;       ///< before which of them symbols are not known
    SampleRange m_there;                   ///< samples of the record
    BitRow m_row, m_open;
    std::vector<std::uint64_t> m_middles, m_about, m_crossings, m_ends, m_doubts;
    bool m_isDoubtful = false;
    std::vector<std::vector<std::uint64_t>> m_atLeast, m_below; ///< by threshold
    RawVector<std::int32_t> m_places, m_endPlaces;
    std::vector<double> m_expected; ///< samples, of the boundaries and one to either side
    // Unit intervals whose symbols are not told by the samples beside their middles:
    std::vector<std::int32_t> m_openOnes;
    std::vector<double> m_openPlaces; ///< samples
    std::vector<std::uint8_t> m_openSymbols;
};

} // namespace fulvex
