#include "program_folders.h"

#include <cstdlib>

namespace fulvex {

namespace {

const std::filesystem::path &prefix()
{
    static const std::filesystem::path found = [] {
        std::error_code missing;
        const auto program = std::filesystem::read_symlink("/proc/self/exe", missing);
        for (auto folder = program.parent_path(); folder != folder.root_path(); folder = folder.parent_path())
            if (std::filesystem::is_directory(folder / "share" / "fulvex", missing)) return folder;
        return std::filesystem::path("/usr");
    }();
    return found;
}

} // namespace

std::filesystem::path shareFolder()
{
    if (const char *named = std::getenv("FULVEX_SHARE")) return named;
    return prefix() / "share" / "fulvex";
}

std::filesystem::path helperFolder()
{
    return prefix() / "libexec" / "fulvex";
}

} // namespace fulvex
