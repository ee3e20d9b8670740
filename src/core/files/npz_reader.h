#pragma once

#include "capture_reader.h"

namespace fulvex {

/// Reads a NumPy .npz: a ZIP of .npy arrays, see captureOf for what becomes a column. Arrays that are stored without
/// compression stay in the file; others are unpacked.
Capture readNpz(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
