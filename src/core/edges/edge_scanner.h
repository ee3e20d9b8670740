#pragma once

#include "crossing_masks.h"
#include "edge_list.h"

#include <cstdint>
#include <limits>
#include <optional>
#include <span>
#include <utility>
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
    /// `first` is the sample index that the first fed sample has, `before` the sample before it where there is one.
    EdgeScanner(CrossingLevel level, std::int64_t first, double before = std::numeric_limits<double>::quiet_NaN());
    /// Appends the crossings that `values` confirms. O(n), by masks of 64 samples; a word with a gap goes sample by
    /// sample.
    void feed(std::span<const double> values, EdgeList &edges);
    /// The same of codes of a scale of positive step.
    void feed(std::span<const std::int16_t> codes, const CodeScale &scale, EdgeList &edges);
    void feed(std::span<const std::int32_t> codes, const CodeScale &scale, EdgeList &edges);
    /// The same, sample by sample throughout: the plain version that feed() must agree with to the last bit.
    void feedPlainly(std::span<const double> values, EdgeList &edges);
    /// Gives back the room that feeding took; where it stands stays.
    void finish();
    enum class Armed { no, below, above };
    /// What a record cut in pieces needs to be joined by: the last passages of the level, NaN where there were none,
    /// and which side of the band the signal was on last.
    struct State {
        Armed armed = Armed::no;
        double up = std::numeric_limits<double>::quiet_NaN(), down = up;
        bool gap = false; ///< one was seen since the last crossing (or since the start)
    };
    State state() const { return {m_armed, m_passageUp, m_passageDown, m_gap}; }
    /// Goes on in this one's end state with a later piece that was scanned on its own. A crossing that its beginning
    /// confirms, which it could not know of, comes back.
    struct Crossing {
        double position;
        bool rising;
    };
    static std::optional<Crossing> join(State &state, const EdgeScanner &piece, bool anyEdge);

private:
    void step(double v, EdgeList &edges);
    /// Crossings of some samples: which is the second about each, counted from the first; and both.
    template <typename Sample>
    struct Crossings {
        RawVector<std::int32_t> at;
        RawVector<std::uint8_t> flags;
        RawVector<Sample> left, right;
    };
    template <typename Sample, typename Value, typename Lay>
    void scanWords(std::span<const Sample> samples, std::span<const CrossingMasks> masks, Crossings<Sample> &found,
                   EdgeList &edges, Value &&value, Lay &&lay);
    template <typename Code>
    void feedCodes(std::span<const Code> codes, const CodeScale &scale, Crossings<Code> &found, EdgeList &edges);
    void emit(double position, bool rising, EdgeList &edges);
    std::uint8_t flagsOf(bool rising);

    CrossingLevel m_level;
    std::int64_t m_seen;
    void settle(Armed side, double up, double down);

    Armed m_armed = Armed::no;
    double m_before;
    double m_passageUp = std::numeric_limits<double>::quiet_NaN(), m_passageDown = m_passageUp;
    bool m_gap = false, m_anyGap = false;
    std::optional<State> m_opening; ///< as it first came to a side of the band; `gap`: behind a gap
    struct Room {                   ///< kept from one feeding to the next
        std::vector<CrossingMasks> masks;
        std::vector<std::uint64_t> passages; ///< bits of them
        Crossings<double> values;
        Crossings<std::int16_t> codes;
        Crossings<std::int32_t> wideCodes;
    } m_room;
    std::optional<std::pair<CodeScale, CodeLevels>> m_codes; ///< what the levels are as codes of a scale
};

} // namespace fulvex
