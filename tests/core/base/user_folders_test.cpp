#include "error.h"
#include "temporary_folder.h"
#include "user_folders.h"

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

TEST(CacheFolder, LiesWhereTheUserWantsItAndIsEmptiedButForWhatIsUsed)
{
    const test::TemporaryFolder home, elsewhere;
    setenv("XDG_CACHE_HOME", home.path().c_str(), 1);
    setCache(elsewhere.path(), 1000);
    EXPECT_EQ(cacheFolder("pyramids"), elsewhere.path() / "fulvex/pyramids");
    EXPECT_EQ(cachePlace(), elsewhere.path() / "fulvex");
    EXPECT_EQ(cacheShare(0.2), 200U);
    elsewhere.write("fulvex/pyramids/one", std::string(100, 'x'));
    fs::create_directories(cacheFolder("unpacked") / "used");
    fs::create_directories(cacheFolder("unpacked") / "unused");
    elsewhere.write("fulvex/unpacked/used/project.fulvex", std::string(50, 'x'));
    elsewhere.write("fulvex/unpacked/unused/project.fulvex", std::string(50, 'x'));
    fs::create_directories(elsewhere.path() / "pictures"); // of a home folder that was chosen
    elsewhere.write("pictures/holiday.png", "mine");
    EXPECT_EQ(cachedBytes(), 100U + 50 + 50);
    emptyCache(elsewhere.path() / "fulvex/unpacked/used");
    EXPECT_FALSE(fs::exists(elsewhere.path() / "pyramids/one"));
    EXPECT_TRUE(fs::exists(elsewhere.path() / "fulvex/unpacked/used/project.fulvex"));
    EXPECT_FALSE(fs::exists(elsewhere.path() / "fulvex/unpacked/unused"));
    EXPECT_TRUE(fs::exists(elsewhere.path() / "pictures/holiday.png")) << "what is no cache stays";
    setCache({}, std::uintmax_t(20) << 30);
    EXPECT_EQ(cacheFolder("pyramids"), home.path() / "fulvex/pyramids");
}
