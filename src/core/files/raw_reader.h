#pragma once

#include "capture_reader.h"

namespace fulvex {

/// Whether the bytes begin as a definite-length arbitrary block: '#', the number of digits, the length in digits.
/// Source: IEEE Std 488.2, 8.7.9.
bool looksLikeBlock(std::span<const std::byte> head);

/// Samples without a header of their own, as the options tell: type, byte order, bytes before them, channels in turn. A
/// definite-length block (IEEE Std 488.2, 8.7.9) states where its data begin and end; where no type is given it is
/// taken as i8, with a remark.
Capture readRaw(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
