#pragma once

#include "capture_reader.h"

namespace fulvex {

/// MAT-files of level 5 and 7.3 by their version and byte-order marks at byte 124, of level 4 by a first header that
/// makes sense.
bool looksLikeMat(std::span<const std::byte> head);

/// Reads a MAT-file of level 4, 5 or 7.3: real arrays of numbers, also as fields of structures, see captureOf for what
/// becomes a column.
Capture readMat(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
