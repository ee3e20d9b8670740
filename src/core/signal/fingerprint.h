#pragma once

#include "progress.h"

#include <filesystem>
#include <span>
#include <string>

namespace fulvex {

/// SHA-256 in lower-case hexadecimal.
std::string sha256(std::span<const std::byte> bytes);
std::string sha256(std::string_view text);
/// Of whole files, one behind the other; throws Error when one cannot be read.
std::string sha256OfFiles(std::span<const std::filesystem::path> paths, Progress &progress);

} // namespace fulvex
