#pragma once

#include "document.h"

#include <filesystem>
#include <string>

namespace fulvex {

/// Parses and validates a project. Throws Error: `name`, the line or JSON path, what is wrong, what would mend it.
/// A key that no version knows is an error, so that a slip of the pen does not pass as a default.
Document parseDocument(const std::string &json, const std::string &name);
std::string documentText(const Document &document);
/// How to read a capture, as JSON; equal texts, equal captures.
std::string importText(const ImportOptions &options);
/// The other way round. Throws Error.
ImportOptions parseImport(const std::string &json);

Document loadDocument(const std::filesystem::path &path);
/// Atomic; see writeFileAtomically.
void saveDocument(const Document &document, const std::filesystem::path &path);

} // namespace fulvex
