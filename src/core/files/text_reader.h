#pragma once

#include "capture_reader.h"

namespace fulvex {

/// Text: no control characters but tab and line ends, at least one digit.
bool looksLikeText(std::span<const std::byte> head);

/// Reads a table of numbers in text (see TextDialect for the dialects), on all cores. A time column is one that the
/// options name, or the first when its name or unit says time or it rises evenly from row to row. Empty and "nan"
/// cells are gaps. Values in a prefixed unit (mV) are brought to the plain one (V); a remark says so.
Capture readText(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
