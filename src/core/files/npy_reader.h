#pragma once

#include "capture_reader.h"
#include "mapped_columns.h"

namespace fulvex {

bool looksLikeNpy(std::span<const std::byte> head);

/// An array in the .npy format within some bytes: of two dimensions the longer one runs along time.
struct NpyArray {
    SampleLayout layout; ///< offset counts from the array's first byte
    bool scalar = false; ///< of no dimension: one number
};

/// Throws Error naming `name` when it is not one, is cut short, or holds what is not a number of up to 8 bytes.
NpyArray parseNpy(std::span<const std::byte> bytes, const std::string &name);

/// Reads a NumPy .npy array (format versions 1 to 3) of integers, booleans or floats of 2, 4 or 8 bytes, either byte
/// order, C or Fortran order. One dimension is one column; of two, the longer one runs along time (of equal ones the
/// first). The samples stay mapped. The format has no time axis: the interval comes from the options.
Capture readNpy(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress);

} // namespace fulvex
