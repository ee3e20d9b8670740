#pragma once

#include "document.h"
#include "progress.h"

#include <filesystem>

namespace fulvex {

/// A project as it lies on disk: a document beside its captures, or a packed one, a ZIP archive of the document
/// ("project.fulvex") and the captures ("captures/ID/NAME"). See docs/formats.md.

/// By content. Throws Error when the file cannot be read.
bool isPackedProject(const std::filesystem::path &path);

/// What tells whether somebody else wrote the file meanwhile; empty while there is none.
std::string projectStamp(const std::filesystem::path &path);

struct OpenedProject {
    Document document;
    std::filesystem::path base; ///< folder that relative capture files are relative to
    bool packed = false;
    std::string sha256; ///< of the document's text
    std::string stamp;  ///< see projectStamp
};

/// Opens either form. A packed one is unpacked into the user's cache folder, once. Throws Error: what is wrong and
/// where.
OpenedProject openProject(const std::filesystem::path &path, Progress &progress);

/// The ending that packed projects are saved under.
constexpr const char *packedEnding = ".fulvexpack";

/// Writes the document with the captures' paths relative to it. Where captures lie in the cache folder (a packed
/// project was opened), they are copied to "NAME-captures" beside it first. Throws Error.
void saveProject(Document document, const std::filesystem::path &base, const std::filesystem::path &path,
                 Progress &progress);

/// Writes the document and all files of its captures into one archive, whole or not at all. `base`: folder that the
/// document's capture files are relative to. Throws Error, also when a capture is not there.
void packProject(const Document &document, const std::filesystem::path &base, const std::filesystem::path &path,
                 Progress &progress);

} // namespace fulvex
