#include "share_folder.h"

#include <cstdlib>

namespace fulvex {

std::filesystem::path shareFolder()
{
    if (const char *named = std::getenv("FULVEX_SHARE")) return named;
    std::error_code missing;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", missing);
    const auto installed = program.parent_path().parent_path() / "share" / "fulvex";
    if (!missing && std::filesystem::is_directory(installed)) return installed;
    return FULVEX_SOURCE_SHARE;
}

} // namespace fulvex
