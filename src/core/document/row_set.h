#pragma once

#include "document.h"

namespace fulvex {

/// Rows of the Ledger to be laid on any channel: quantities with their settings and limits, and the levels they go by.
struct RowSet {
    std::string title;
    std::vector<MeasurementEntry> rows; ///< whose channels, clocks, eyes and regions are those they were made from
    std::vector<LevelsEntry> levels;
};

/// Of rows by their ids; regions are left out, since they belong to one record.
RowSet rowSetOf(const Document &document, const std::string &title, const std::vector<std::string> &ids);

/// What rows stand on beside their channel; empty: there is none.
struct Beside {
    std::string clock, eye, to;
};

/// Adds the rows for a channel; levels of the same name that are not the same get another. What lacks a clock, an eye
/// or a second channel there is left out. Ids of what was added.
std::vector<std::string> layRowSet(Document &document, const RowSet &set, const std::string &channel,
                                   const Beside &beside);

/// As a file of ours. Throws Error.
std::string rowSetText(const RowSet &set);
RowSet parseRowSet(const std::string &json, const std::string &name);

} // namespace fulvex
