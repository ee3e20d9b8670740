#pragma once

#include "capture_reader.h"

namespace fulvex {

/// RIFF/WAVE, RF64, W64 or FLAC.
bool looksLikeAudio(std::span<const std::byte> head);

/// Reads audio files as captures: full scale is 1, the sample rate is theirs. Whole-number and float samples of RIFF
/// and RF64 files stay in the file; other encodings and containers are decoded by libsndfile.
Capture readAudio(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
