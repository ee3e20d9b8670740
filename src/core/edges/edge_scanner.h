#pragma once

#include "crossing_masks.h"
#include "edge_list.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// Finds where a signal crosses a level, block by block, rising and falling.
/// A rising crossing counts when the signal, having been at or below `bottom`, reaches `top`; its instant is the last
/// passage of `mid` itself in between, on the straight line between the samples around it; falling the other way
/// round. So rising and falling alternate. A record that starts above the band has no rising crossing before it has
/// been below. A sample that is not finite is a gap: nothing crosses it. Where the record is cut into blocks changes
/// no bit of the result.
/// Source: IEEE Std 181, reference level instant; hysteresis as in docs/methods.md.
class EdgeScanner {
public:
    /// `first` is the sample index that the first fed sample has.
    EdgeScanner(CrossingLevel level, std::int64_t first);
    /// Appends the crossings that `volts` confirms. O(n), by masks of 64 samples; a word with a gap goes sample by
    /// sample.
    void feed(std::span<const double> volts, EdgeList &edges);
    /// The same, sample by sample throughout: the plain version that feed() must agree with to the last bit.
    void feedPlainly(std::span<const double> volts, EdgeList &edges);
    /// Whether a gap was seen since the last crossing (or since the start).
    bool gapPending() const { return m_gap; }
    void clearGap() { m_gap = false; }

private:
    enum class Armed { no, below, above };
    void step(double v, EdgeList &edges);
    void scanWord(const double *volts, const CrossingMasks &masks, EdgeList &edges);
    void emit(double position, bool rising, EdgeList &edges);

    CrossingLevel m_level;
    std::int64_t m_seen;
    Armed m_armed = Armed::no;
    double m_before;
    double m_passageUp = 0, m_passageDown = 0;
    bool m_gap = false;
    std::vector<CrossingMasks> m_masks;
};

} // namespace fulvex
