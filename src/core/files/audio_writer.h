#pragma once

#include "capture_writer.h"

namespace fulvex {

/// RIFF/WAVE of doubles, full scale 1 standing for 1 V (or whatever the unit is). Throws Error where the sample rate is
/// not whole or beyond 32 bits, which the format cannot say.
void writeAudio(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
                Progress &progress);

} // namespace fulvex
