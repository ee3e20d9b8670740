#pragma once

#include "field.h"
#include "import_options.h"

namespace fulvex {

/// A file of samples and how to read it.
struct CaptureEntry {
    std::string id, file;
    std::string sha256; ///< empty: not known yet
    ImportOptions import;
    std::optional<std::int64_t> bytes = {}; ///< of its files, as `sha256` was taken
    bool operator==(const CaptureEntry &) const = default;
};

std::vector<Field> fieldsOf(CaptureEntry &entry);
/// The same of how a file is read, in no group.
std::vector<Field> fieldsOf(ImportOptions &options);

} // namespace fulvex
