#pragma once

#include "capture_writer.h"

namespace fulvex {

/// Text: lines that state interval and start to the last digit, then time and channels, shortest digits that read back
/// to the same doubles, gaps empty.
void writeCsv(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
              Progress &progress);

} // namespace fulvex
