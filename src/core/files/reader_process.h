#pragma once

#include "named_arrays.h"

namespace fulvex {

/// The arrays of a file in a format that a library reads. It does so in a process of its own (fulvex-reader) with
/// bounds on memory and time: a damaged or hostile file may take that process down, and this one says so with an Error.
/// Arrays that lie in the file as they are stay there; the others come in memory. A cancel ends the process.
std::vector<NamedArray> arraysByReader(const char *format, const std::shared_ptr<const MappedFile> &file,
                                       const ImportOptions &options, Progress &progress);

} // namespace fulvex
