#pragma once

#include "field.h"

namespace fulvex {

/// A text pinned to a moment and a level of a channel.
struct NoteEntry {
    std::string id, channel, text;
    double time = 0, level = 0; ///< s, in the channel's unit
    /// Where its box lies from the pin and how wide it is, in pixels at 96 dpi; width 0: beside the pin, in one line.
    double right = 0, down = 0, width = 0;
    bool operator==(const NoteEntry &) const = default;
};

/// A mark to measure from and to. With a time only: a moment, free of any trace. With a channel and a time: it sits on
/// the trace and follows it. With a channel and a level: a value on that channel's scale. With a row and a level: one
/// of the values that the row measures.
struct MarkerEntry {
    std::string id, channel, row;
    std::optional<double> time, level; ///< s, in the channel's or the row's unit
    bool operator==(const MarkerEntry &) const = default;
};

std::vector<Field> fieldsOf(NoteEntry &entry);
std::vector<Field> fieldsOf(MarkerEntry &entry);
void checkEntry(const MarkerEntry &entry, const std::string &where);

} // namespace fulvex
