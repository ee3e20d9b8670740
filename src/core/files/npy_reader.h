#pragma once

#include "array_shape.h"
#include "capture_reader.h"

namespace fulvex {

bool looksLikeNpy(std::span<const std::byte> head);

/// The shape of an array in the .npy format within some bytes, its offset counted from the array's first byte. Throws
/// Error naming `name` when it is not one, is cut short, or holds what is not a number of up to 8 bytes, or a complex
/// one of up to 16.
ArrayShape parseNpy(std::span<const std::byte> bytes, const std::string &name);

/// Reads a NumPy .npy array (format versions 1 to 3) of integers, booleans, floats of 2, 4 or 8 bytes or complex
/// numbers of 8 or 16, either byte order, C or Fortran order. One dimension is one column; of several, the longest runs
/// along time (of equal ones the first). The samples stay mapped. The format has no time axis: the interval comes from
/// the options.
Capture readNpy(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
