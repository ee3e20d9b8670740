#pragma once

#include "capture_writer.h"

namespace fulvex {

/// A NumPy array of doubles: samples, or samples and channels. It cannot say interval, names or units.
void writeNpy(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
              Progress &progress);

} // namespace fulvex
