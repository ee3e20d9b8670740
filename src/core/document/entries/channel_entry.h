#pragma once

#include "field.h"

namespace fulvex {

/// One signal over time: a column of a capture, or a formula over others.
struct ChannelEntry {
    std::string id;
    std::string capture;          ///< empty for a computed channel
    NumberOrName column = 0;      ///< of the capture's data columns, or its name
    double scale = 1, offset = 0; ///< value = raw * scale + offset
    double delay = 0;             ///< s, added to every time
    std::string formula;          ///< not empty: a computed channel
    std::string unit, label;      ///< unit empty: the file's, or that of the channels it is made of, or V
    std::string ink, line;        ///< how its trace is drawn; empty: by its place among the channels, and solid
    bool operator==(const ChannelEntry &) const = default;
    const std::string &shownName() const { return label.empty() ? id : label; }
};

/// The inks that a channel may have, in the order in which they are given out.
std::span<const Choice> channelInks();

/// A number that formulas name.
struct ParameterEntry {
    std::string id;
    double value = 0;
    std::optional<double> min = {}, max = {};
    std::string unit = {};
    std::string scale = {};          ///< of its slider: linear, logarithmic; empty: by its span
    std::optional<double> step = {}; ///< that its slider moves by
    bool operator==(const ParameterEntry &) const = default;
};

std::vector<Field> fieldsOf(ChannelEntry &entry);
void checkEntry(const ChannelEntry &entry, const std::string &where);
std::vector<Field> fieldsOf(ParameterEntry &entry);
void checkEntry(const ParameterEntry &entry, const std::string &where);

} // namespace fulvex
