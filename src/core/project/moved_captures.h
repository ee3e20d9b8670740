#pragma once

#include "document.h"
#include "progress.h"

#include <filesystem>

namespace fulvex {

/// A capture that does not lie where the document says.
struct MissingCapture {
    std::string id;
    std::filesystem::path wanted;
    std::filesystem::path found; ///< empty: nowhere near
    bool same = false;           ///< `found` has the fingerprint that the document kept
};

/// Captures that are not there, each with the file that it probably is now: one of the same name, or, where the
/// document keeps a fingerprint, of the same contents, below the project's folder or its parent. Nothing is used:
/// whoever asked decides. Looks at most at 20000 files, and reads those of the capture's size (of an older document,
/// which keeps no size, up to 1 GiB of those whose name makes them likely).
std::vector<MissingCapture> missingCaptures(const Document &document, const std::filesystem::path &base,
                                            Progress &progress);

/// A file's path as a document in `folder` keeps it: relative where it lies below the folder, else absolute.
std::string keptPath(const std::filesystem::path &file, const std::filesystem::path &folder);

} // namespace fulvex
