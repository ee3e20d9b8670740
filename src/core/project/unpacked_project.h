#pragma once

#include "project_file.h"

namespace fulvex {

/// The folder in the user's cache that a packed project is unpacked to; unpacks it where it is not there, or is not as
/// it was left. Throws Error, and NeedsConsent where it would grow a great deal.
std::filesystem::path unpackedFolder(const std::filesystem::path &pack, PackConsent consent, Progress &progress);

/// Whether a file is part of what a packed project was unpacked to.
bool isUnpacked(const std::filesystem::path &file);

/// The document's place in an archive, and in such a folder.
constexpr const char *packedDocument = "project.fulvex";

} // namespace fulvex
