#pragma once

#include "capture_reader.h"

namespace fulvex {

bool looksLikeHdf5(std::span<const std::byte> head);

/// Reads HDF5: datasets of numbers with one or two dimensions, see captureOf for what becomes a column. Attributes of a
/// dataset and of the groups above it give interval, rate and start where they are named so (timeFact), and "unit" or
/// "units". Contiguous datasets stay in the file, others are unpacked.
Capture readHdf5(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
