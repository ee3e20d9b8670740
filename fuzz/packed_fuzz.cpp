// A packed project: opened whole, or refused with an Error, and nothing is written outside of its own folder.

#include "error.h"
#include "project_file.h"

#include <cstdlib>
#include <fstream>
#include <unistd.h>

using namespace fulvex;
namespace fs = std::filesystem;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size)
{
    static const fs::path folder = "/dev/shm/fulvex-fuzz-packed-" + std::to_string(getpid());
    static const bool prepared = [] {
        fs::create_directories(folder / "cache");
        setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
        return std::atexit([] { fs::remove_all(folder); }) == 0;
    }();
    (void)prepared;
    const fs::path file = folder / "in.fulvexpack";
    std::ofstream(file, std::ios::binary).write(reinterpret_cast<const char *>(bytes), std::streamsize(size));
    Progress progress;
    try {
        const OpenedProject opened = openProject(file, progress);
        if (opened.packed && opened.base.string().find((folder / "cache").string()) != 0) std::abort();
    } catch (const Error &) {
    }
    std::size_t entries = 0;
    for (const auto &entry : fs::directory_iterator(folder)) entries += !entry.path().empty();
    if (entries != 2) std::abort(); // the file and the cache
    std::error_code ignored;
    fs::remove_all(folder / "cache/fulvex", ignored);
    return 0;
}
