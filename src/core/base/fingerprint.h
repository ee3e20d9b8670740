#pragma once

#include "mapped_file.h"
#include "progress.h"

#include <span>
#include <string>

namespace fulvex {

/// SHA-256 in lower-case hexadecimal.
std::string sha256(std::span<const std::byte> bytes);
std::string sha256(std::string_view text);
/// Of whole files, one behind the other, as they are mapped; throws Error when one was written to since it was opened.
std::string sha256OfFiles(std::span<const std::shared_ptr<const MappedFile>> files, Progress &progress);

} // namespace fulvex
