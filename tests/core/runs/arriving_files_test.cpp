// Files of a folder that somebody writes to: each once, when it is whole.

#include "arriving_files.h"
#include "temporary_folder.h"

#include <gtest/gtest.h>

namespace fulvex {
namespace {

using namespace std::chrono_literals;
using Names = std::vector<std::string>;
namespace fs = std::filesystem;

class ArrivingFilesOf : public testing::Test {
protected:
    Names take(const Names &files, std::chrono::milliseconds at)
    {
        return arriving.take(files, folder.path(), ArrivingFiles::Instant(1h + at));
    }
    bool putBack(const std::string &file, std::chrono::milliseconds at)
    {
        return arriving.putBack(file, folder.path(), ArrivingFiles::Instant(1h + at));
    }
    void writtenAgo(const std::string &file, std::chrono::seconds ago)
    {
        fs::last_write_time(folder / file, fs::file_time_type::clock::now() - ago);
    }
    test::TemporaryFolder folder;
    ArrivingFiles arriving{1000ms};
};

TEST_F(ArrivingFilesOf, OneThatGrowsIsTakenWhenItHasSettled)
{
    folder.write("a", "1");
    EXPECT_EQ(take({"a"}, 0ms), Names{});
    EXPECT_TRUE(arriving.waits());
    folder.write("a", "12");
    EXPECT_EQ(take({"a"}, 1100ms), Names{});
    EXPECT_EQ(take({"a"}, 1900ms), Names{});
    EXPECT_EQ(take({"a"}, 2100ms), Names{"a"});
    EXPECT_EQ(take({"a"}, 9000ms), Names{});
    EXPECT_FALSE(arriving.waits());
}

TEST_F(ArrivingFilesOf, WhatLayThereBeforeIsTakenAtOnceTheOldestFirst)
{
    for (const char *name : {"c9", "c10", "b"}) folder.write(name, "1");
    writtenAgo("c9", 60s);
    writtenAgo("b", 30s);
    fs::last_write_time(folder / "c10", fs::last_write_time(folder / "c9"));
    EXPECT_EQ(take({"b", "c10", "c9"}, 0ms), (Names{"c9", "c10", "b"}));
}

TEST_F(ArrivingFilesOf, WhatBecomesOfOneAfterwardsDoesNotBringItAgain)
{
    folder.write("a", "12");
    writtenAgo("a", 60s);
    EXPECT_EQ(take({"a"}, 0ms), Names{"a"});
    folder.write("a", "1"); // shrinks
    EXPECT_EQ(take({"a"}, 5000ms), Names{});
    fs::remove(folder / "a");
    EXPECT_EQ(take({}, 6000ms), Names{});
    folder.write("a", "another"); // comes again by that name
    EXPECT_EQ(take({"a"}, 7000ms), Names{});
    EXPECT_EQ(take({"a"}, 20000ms), Names{});
}

TEST_F(ArrivingFilesOf, EmptyAndVanishingOnesAreNone)
{
    folder.write("empty", "");
    writtenAgo("empty", 60s);
    EXPECT_EQ(take({"empty", "gone"}, 0ms), Names{});
    EXPECT_EQ(take({"empty"}, 20000ms), Names{});
    arriving.know("counted before");
    folder.write("counted before", "1");
    writtenAgo("counted before", 60s);
    EXPECT_EQ(take({"counted before"}, 21000ms), Names{});
}

TEST_F(ArrivingFilesOf, ARecordingOfTwoFilesWaitsForBoth)
{
    folder.write("r.sigmf-meta", "{}");
    writtenAgo("r.sigmf-meta", 60s);
    EXPECT_EQ(take({"r.sigmf-meta"}, 0ms), Names{}); // its samples are not there
    folder.write("r.sigmf-data", "1234");
    EXPECT_EQ(take({"r.sigmf-meta"}, 1000ms), Names{});
    folder.write("r.sigmf-data", "12345678");
    EXPECT_EQ(take({"r.sigmf-meta"}, 2100ms), Names{});
    EXPECT_EQ(take({"r.sigmf-meta"}, 3200ms), Names{"r.sigmf-meta"});
}

TEST_F(ArrivingFilesOf, OneThatIsNotWholeComesAgainWhenItHasChanged)
{
    folder.write("a", "1");
    EXPECT_EQ(take({"a"}, 0ms), Names{});
    EXPECT_EQ(take({"a"}, 1000ms), Names{"a"});
    EXPECT_TRUE(putBack("a", 1100ms)); // its writer only paused
    EXPECT_EQ(take({"a"}, 2500ms), Names{});
    folder.write("a", "1234");
    EXPECT_EQ(take({"a"}, 3000ms), Names{});
    EXPECT_EQ(take({"a"}, 4000ms), Names{"a"});
}

TEST_F(ArrivingFilesOf, OneThatNeverBecomesWholeIsGivenUp)
{
    folder.write("a", "1");
    EXPECT_EQ(take({"a"}, 0ms), Names{});
    EXPECT_EQ(take({"a"}, 1000ms), Names{"a"});
    EXPECT_TRUE(putBack("a", 1000ms));
    EXPECT_EQ(take({"a"}, 9000ms), Names{});
    EXPECT_EQ(take({"a"}, 11500ms), Names{"a"}); // once more, and then it is what it is
    EXPECT_FALSE(putBack("a", 12000ms));
    EXPECT_EQ(take({"a"}, 60000ms), Names{});
    // An old one is not waited for.
    folder.write("old", "1");
    writtenAgo("old", 3600s);
    EXPECT_EQ(take({"old"}, 61000ms), Names{"old"});
    EXPECT_FALSE(putBack("old", 61000ms));
}

} // namespace
} // namespace fulvex
