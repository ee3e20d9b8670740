#pragma once

#include "capture_reader.h"

namespace fulvex {

/// JSON with a core:datatype near its beginning.
bool looksLikeSigmf(std::span<const std::byte> head);

/// Metadata and data of the recording that either path belongs to.
std::vector<std::filesystem::path> sigmfFiles(const std::filesystem::path &path);

/// Reads a SigMF recording of real samples, given its .sigmf-meta or its .sigmf-data file; the samples stay in the data
/// file. Of several capture segments the first one's header bytes count; the others are one record with it, as the
/// samples lie. Source: the Signal Metadata Format specification, version 1.
Capture readSigmf(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
