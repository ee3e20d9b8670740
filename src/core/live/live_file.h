#pragma once

#include "live_source.h"

#include <filesystem>

namespace fulvex {

/// Writes what an instrument captured as a SigMF recording of the samples as they were sent, with their scales (see
/// docs/formats.md): there whole, or not at all. `meta`: its path, ending in .sigmf-meta. Throws Error.
void writeLive(const std::filesystem::path &meta, const LiveRecord &record);

/// The path of a capture in a folder of them, and the first number that is free there.
std::filesystem::path liveFile(const std::filesystem::path &folder, std::size_t number);
std::size_t nextLiveNumber(const std::filesystem::path &folder);
/// What names all of them.
std::string livePattern(const std::string &folder);

} // namespace fulvex
