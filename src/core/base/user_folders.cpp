#include "user_folders.h"

#include "error.h"

#include <algorithm>
#include <cstdlib>
#include <mutex>
#include <vector>

namespace fulvex {

namespace fs = std::filesystem;

/// Where the user wants it, if it is nowhere usual.
static struct {
    std::mutex mutex;
    fs::path folder;
    std::uintmax_t most = std::uintmax_t(20) << 30;
} choice;

static fs::path made(const fs::path &folder, const std::string &remedy)
{
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure) throw Error(folder.string(), "cannot be made: " + failure.message(), remedy);
    return folder;
}

/// In the folder that a variable names, else in the home folder.
static fs::path ownFolder(const char *variable, const char *inHome, const std::string &name)
{
    const char *base = std::getenv(variable), *home = std::getenv("HOME");
    if (!(base && *base) && !(home && *home))
        throw Error("HOME", "is not set, so there is no folder for " + name,
                    "set " + std::string(variable) + " to a folder");
    return made((base && *base ? fs::path(base) : fs::path(home) / inHome) / "fulvex" / name,
                "set " + std::string(variable) + " to a folder");
}

fs::path cacheFolder(const std::string &name)
{
    {
        const std::lock_guard lock(choice.mutex);
        if (!choice.folder.empty())
            return made(choice.folder / "fulvex" / name, "choose another folder in the settings");
    }
    return ownFolder("XDG_CACHE_HOME", ".cache", name);
}

void setCache(const fs::path &folder, std::uintmax_t most)
{
    const std::lock_guard lock(choice.mutex);
    choice.folder = folder;
    choice.most = most;
}

std::uintmax_t cacheShare(double share)
{
    const std::lock_guard lock(choice.mutex);
    return std::uintmax_t(share * double(choice.most));
}

fs::path configFolder(const std::string &name)
{
    return ownFolder("XDG_CONFIG_HOME", ".config", name);
}

fs::path stateFolder()
{
    return ownFolder("XDG_STATE_HOME", ".local/state", "").parent_path();
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

fs::path cachePlace()
{
    return cacheFolder("").parent_path();
}

std::uintmax_t cachedBytes()
{
    return bytesIn(cachePlace());
}

void emptyCache(const fs::path &used)
{
    for (const char *kind : {"pyramids", "unpacked", "pictures"}) {
        std::error_code failure;
        for (fs::directory_iterator each(cacheFolder(kind), failure), end; !failure && each != end;
             each.increment(failure)) {
            std::error_code gone;
            const auto within = used.lexically_relative(each->path());
            if (within.empty() || within.string().starts_with("..")) fs::remove_all(each->path(), gone);
        }
    }
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
