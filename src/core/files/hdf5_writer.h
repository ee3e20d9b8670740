#pragma once

#include "capture_writer.h"

namespace fulvex {

/// HDF5: a dataset of doubles for each channel with the attributes sample_interval, start and unit.
void writeHdf5(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
               Progress &progress);

} // namespace fulvex
