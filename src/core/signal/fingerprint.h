#pragma once

#include <filesystem>
#include <span>
#include <string>

namespace fulvex {

/// SHA-256 in lower-case hexadecimal.
std::string sha256(std::span<const std::byte> bytes);
std::string sha256(std::string_view text);
/// Of a whole file; throws Error when it cannot be read.
std::string sha256OfFile(const std::filesystem::path &path);

} // namespace fulvex
