#pragma once

#include "capture_writer.h"

namespace fulvex {

/// SigMF: .sigmf-meta and .sigmf-data of the same name; rf64_le, with start, names and units as fulvex: extensions.
void writeSigmf(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                Progress &progress);

} // namespace fulvex
