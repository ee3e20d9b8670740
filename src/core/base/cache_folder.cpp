#include "cache_folder.h"

#include "error.h"

#include <algorithm>
#include <cstdlib>
#include <vector>

namespace fulvex {

namespace fs = std::filesystem;

/// In the folder that a variable names, else in the home folder.
static fs::path ownFolder(const char *variable, const char *inHome, const std::string &name)
{
    const char *base = std::getenv(variable), *home = std::getenv("HOME");
    if (!(base && *base) && !(home && *home))
        throw Error("HOME", "is not set, so there is no folder for " + name,
                    "set " + std::string(variable) + " to a folder");
    const fs::path folder = (base && *base ? fs::path(base) : fs::path(home) / inHome) / "fulvex" / name;
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure)
        throw Error(folder.string(), "cannot be made: " + failure.message(),
                    "set " + std::string(variable) + " to a folder");
    return folder;
}

fs::path cacheFolder(const std::string &name)
{
    return ownFolder("XDG_CACHE_HOME", ".cache", name);
}

fs::path configFolder(const std::string &name)
{
    return ownFolder("XDG_CONFIG_HOME", ".config", name);
}

void touchCached(const fs::path &entry)
{
    std::error_code ignored;
    fs::last_write_time(entry, fs::file_time_type::clock::now(), ignored);
}

static std::uintmax_t bytesIn(const fs::path &path)
{
    std::error_code failure;
    if (fs::is_regular_file(path, failure)) {
        const std::uintmax_t bytes = fs::file_size(path, failure);
        return failure ? 0 : bytes;
    }
    std::uintmax_t all = 0;
    for (fs::recursive_directory_iterator each(path, failure), end; !failure && each != end; each.increment(failure)) {
        std::error_code gone;
        if (const auto bytes = each->is_regular_file(gone) ? each->file_size(gone) : 0; !gone) all += bytes;
    }
    return all;
}

void trimCache(const fs::path &folder, std::uintmax_t bytes)
{
    struct Entry {
        fs::file_time_type used;
        std::uintmax_t bytes;
        fs::path path;
    };
    std::vector<Entry> entries;
    std::uintmax_t all = 0;
    std::error_code failure;
    for (fs::directory_iterator each(folder, failure), end; !failure && each != end; each.increment(failure)) {
        std::error_code gone;
        const auto used = fs::last_write_time(each->path(), gone);
        if (gone) continue;
        entries.push_back({used, bytesIn(each->path()), each->path()});
        all += entries.back().bytes;
    }
    std::sort(entries.begin(), entries.end(), [](const Entry &a, const Entry &b) { return a.used < b.used; });
    for (const Entry &entry : entries) {
        if (all <= bytes) return;
        std::error_code gone;
        fs::remove_all(entry.path, gone);
        all -= entry.bytes;
    }
}

} // namespace fulvex
