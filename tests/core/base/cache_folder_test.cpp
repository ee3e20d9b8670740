#include "cache_folder.h"
#include "error.h"
#include "temporary_folder.h"

#include <cstdlib>
#include <gtest/gtest.h>

using namespace fulvex;
namespace fs = std::filesystem;

TEST(CacheFolder, IsMadeWhereTheUserKeepsCaches)
{
    const test::TemporaryFolder home;
    setenv("XDG_CACHE_HOME", home.path().c_str(), 1);
    EXPECT_EQ(cacheFolder("traces"), home.path() / "fulvex/traces");
    EXPECT_TRUE(fs::is_directory(home.path() / "fulvex/traces"));
    home.write("file", "");
    setenv("XDG_CACHE_HOME", (home / "file").c_str(), 1);
    EXPECT_THROW(cacheFolder("traces"), Error); // a file is in its place
    setenv("XDG_CACHE_HOME", home.path().c_str(), 1);
}

TEST(CacheFolder, TrimmingRemovesWhatWasUsedLongestAgo)
{
    const test::TemporaryFolder folder;
    for (const char *name : {"a", "b", "c"}) folder.write(name, std::string(100, 'x'));
    fs::create_directories(folder.path() / "d");
    folder.write("d/inner", std::string(100, 'x'));
    const auto now = fs::file_time_type::clock::now();
    int age = 10;
    for (const char *name : {"a", "b", "c", "d"})
        fs::last_write_time(folder.path() / name, now - std::chrono::hours(age--));
    touchCached(folder.path() / "a");
    trimCache(folder.path(), 400);
    EXPECT_TRUE(fs::exists(folder.path() / "b")); // all fit
    trimCache(folder.path(), 250);
    EXPECT_TRUE(fs::exists(folder.path() / "a"));
    EXPECT_FALSE(fs::exists(folder.path() / "b"));
    EXPECT_FALSE(fs::exists(folder.path() / "c"));
    EXPECT_TRUE(fs::exists(folder.path() / "d/inner"));
    trimCache(folder.path(), 0);
    EXPECT_TRUE(fs::is_empty(folder.path()));
    trimCache(folder.path() / "nowhere", 0);
}
