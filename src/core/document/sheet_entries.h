#pragma once

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// What a document says about how things are shown and pointed at; no result depends on it.

/// A text pinned to a moment and a level of a channel.
struct NoteEntry {
    std::string id, channel, text;
    double time = 0, level = 0; ///< s, in the channel's unit
    /// Where its box lies from the pin and how wide it is, in pixels at 96 dpi; width 0: beside the pin, in one line.
    double right = 0, down = 0, width = 0;
    bool operator==(const NoteEntry &) const = default;
};

/// A mark to measure from and to. With a time only: a moment, free of any trace. With a channel and a time: it sits on
/// the trace and follows it. With a channel and a level: a value on that channel's scale.
struct MarkerEntry {
    std::string id, channel;
    std::optional<double> time, level; ///< s, in the channel's unit
    bool operator==(const MarkerEntry &) const = default;
};

/// One tile of a sheet. `of` is what it shows: channels for traces, an eye's id, a measurement's id.
struct TileEntry {
    std::string id;   ///< keeps what is remembered of a tile at it when others come and go
    std::string kind; ///< traces, eye, histogram
    std::vector<std::string> of;
    bool lanes = false; ///< traces: one lane a channel instead of all in one
    int row = 0, column = 0, rowSpan = 1, columnSpan = 1;
    std::vector<double> heights;                             ///< traces: of the lanes, relative; 1 where missing
    std::map<std::string, std::pair<double, double>> ranges; ///< traces: values at the bottom and top, by channel
    bool ownView = false;                                    ///< traces: shows from … to, not the sheet's view
    std::optional<double> from, to;                          ///< s
    bool straight = false; ///< traces: straight lines between samples, not the band-limited curve
    bool operator==(const TileEntry &) const = default;
};

struct SheetEntry {
    std::string id, title;
    std::vector<TileEntry> tiles;
    std::optional<double> from, to; ///< s, the view; empty: the whole record
    bool operator==(const SheetEntry &) const = default;
};

} // namespace fulvex
