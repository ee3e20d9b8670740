#pragma once

#include "named_arrays.h"

namespace fulvex {

/// MAT-files of level 5 and 7.3 by their version and byte-order marks at byte 124, of level 4 by a first header that
/// makes sense.
bool looksLikeMat(std::span<const std::byte> head);

/// Hands on the file's real arrays of numbers, fields of structures included: of those not asked
/// for the name alone. In this process: what a hostile file does to the library, it does here.
void unpackMat(const std::shared_ptr<const MappedFile> &file, const std::vector<std::string> &datasets,
               const ArraySink &sink);

/// Reads in a process of its own a MAT-file of level 4, 5 or 7.3: real arrays of numbers, also as fields of structures,
/// see captureOf for what becomes a column.
Capture readMat(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
