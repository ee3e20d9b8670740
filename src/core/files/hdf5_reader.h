#pragma once

#include "named_arrays.h"

namespace fulvex {

bool looksLikeHdf5(std::span<const std::byte> head);

/// Hands on the file's datasets of numbers with one or two dimensions, of those not asked
/// for the name alone. In
/// this process: what a hostile file does to the library, it does here. Attributes of a dataset and of the groups above
/// it give interval, rate and start where they are named so (timeFact), and "unit" or "units".
void unpackHdf5(const std::shared_ptr<const MappedFile> &file, const std::vector<std::string> &datasets,
                const ArraySink &sink);

/// Reads HDF5 in a process of its own: datasets of numbers with one or two dimensions, see captureOf for what becomes a
/// column. Contiguous datasets stay in the file, others are unpacked.
Capture readHdf5(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
