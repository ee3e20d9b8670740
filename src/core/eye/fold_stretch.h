#pragma once

#include "eye_fold.h"
#include "fold_kernels.h"
#include "phased_samples.h"
#include "raw_vector.h"
#include "symbol_words.h"

#include <span>
#include <vector>

namespace fulvex {

/// A stretch of the record, folded in passes that vectors do: questions about phases and levels as bits, 64 samples a
/// word, and what is summed by lists of places. Kept by a core from stretch to stretch for its buffers.
///
/// Symbols: the middles of unit intervals lie between two samples each, so bits at those are the symbols in their
/// order; spread over the samples from middle to middle they say of each between which two symbols it lies.
class Stretch {
public:
    /// Reads the samples `own` of these unit intervals and those about them, and decides what symbols they are. False
    /// where the clock has unit intervals without a sample.
    bool load(const SampleSource &source, const UnitIntervalMap &map, int interpolation, SampleRange unitIntervals,
              SampleRange own, std::span<const double> thresholds);
    /// Puts every sample into its cell's count, of which there is one more for gaps, and adds to a part's levels and
    /// mean traces. `origin`: a value that sums are told from.
    void fold(const FoldGrid &grid, double origin, std::uint32_t *counts, EyeFold::Part &part);

private:
    using Words = std::vector<std::uint64_t>;
    void compareAll(std::span<const double> thresholds);
    void decide(double threshold, BitRow &symbols);
    void keepOwn(SampleRange own);
    std::size_t levels() const { return m_after.size() + 1; }
    std::uint64_t symbolsOf(const std::vector<Words> &reached, const Words &known, std::size_t symbol,
                            std::size_t word) const;
    std::span<const std::int32_t> listed();
    Moments levelOf(double origin);
    void addTransitions(std::span<const std::int32_t> places, EyeFold::Trace &trace) const;

    PhasedSamples m_at;
    std::size_t m_ownFirst = 0, m_ownSamples = 0;  ///< of the stretch
    std::size_t m_unitIntervals = 0, m_middle = 0; ///< own ones; which the first middle is of, counted from the margin
    bool m_allThere = true;
    Words m_middles, m_behind, m_centre, m_edge, m_there, m_some;
    std::vector<Words> m_before, m_after; ///< by threshold: whether the symbols about a sample have reached it
    Words m_knownBefore, m_knownAfter;
    std::vector<BitRow> m_reached;
    BitRow m_known;
    RawVector<std::int32_t> m_places, m_cells;
};

} // namespace fulvex
