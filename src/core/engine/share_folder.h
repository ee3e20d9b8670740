#pragma once

#include <filesystem>

namespace fulvex {

/// The folder of shipped data (masks): FULVEX_SHARE, ../share/fulvex beside the installed program, or the source
/// tree's.
std::filesystem::path shareFolder();

} // namespace fulvex
