#pragma once

#include "capture_reader.h"

namespace fulvex {

bool looksLikeNpy(std::span<const std::byte> head);

/// Reads a NumPy .npy array (format versions 1 to 3) of integers, booleans or floats of 2, 4 or 8 bytes, either byte
/// order, C or Fortran order. One dimension is one column; of two, the longer one runs along time (of equal ones the
/// first). The samples stay mapped. The format has no time axis: the interval comes from the options.
Capture readNpy(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
