#pragma once

#include <filesystem>
#include <string_view>

namespace fulvex {

/// Writes a file whole or not at all: to a temporary file beside it, synced, then renamed over it. Throws Error and
/// leaves what was there untouched when any step fails.
void writeFileAtomically(const std::filesystem::path &path, std::string_view bytes);

/// The whole of a text file; throws Error when it cannot be read or is larger than `limit` bytes.
std::string readTextFile(const std::filesystem::path &path, std::size_t limit = 64u << 20);

} // namespace fulvex
