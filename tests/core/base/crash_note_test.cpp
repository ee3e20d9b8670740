// A program that ends by a fault leaves a note: what it was, where, what was done last, by name.

#include "crash_note.h"
#include "temporary_folder.h"

#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

struct CrashNotes : testing::Test {
    CrashNotes() { ::setenv("XDG_STATE_HOME", folder.path().c_str(), 1); }
    ~CrashNotes() override { ::unsetenv("XDG_STATE_HOME"); }
    /// What a child does that has begun to leave notes; the signal it ends by.
    template <typename Act>
    int endOf(const Act &act)
    {
        const pid_t child = ::fork();
        if (child == 0) {
            startCrashNotes("fulvex", "9.9.9");
            act();
            ::_exit(0);
        }
        int status = 0;
        ::waitpid(child, &status, 0);
        return WIFSIGNALED(status) ? WTERMSIG(status) : 0;
    }
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(CrashNotes, AFaultLeavesOneAndEndsTheProgramAsUsual)
{
    for (const int number : {SIGSEGV, SIGABRT, SIGFPE}) {
        const int ended = endOf([&] {
            for (int i = 0; i < 20; ++i) rememberAction(i < 18 ? "add_eye" : i == 18 ? "add_loop" : "report");
            ::raise(number);
        });
        EXPECT_EQ(ended, number);
        const auto notes = crashNotes();
        ASSERT_EQ(notes.size(), 1U);
        EXPECT_THAT(notes[0].text, HasSubstr("fulvex 9.9.9\n"));
        EXPECT_THAT(notes[0].text, HasSubstr("last actions, the newest first: report add_loop add_eye"));
        EXPECT_THAT(notes[0].text, HasSubstr("where:\n"));
        EXPECT_THAT(notes[0].text.substr(notes[0].text.find("where:")), testing::Not(HasSubstr("/"))) << "no folders";
        EXPECT_GT(std::count(notes[0].text.begin(), notes[0].text.end(), '\n'), 6); // some frames
        discardCrashNotes();
        EXPECT_TRUE(crashNotes().empty());
    }
}

TEST_F(CrashNotes, NothingIsLeftWhereNothingHappened)
{
    EXPECT_EQ(endOf([] { rememberAction("add_eye"); }), 0);
    EXPECT_TRUE(crashNotes().empty());
}

TEST_F(CrashNotes, TheNewestFewAreKept)
{
    std::filesystem::create_directories(folder.path() / "fulvex/crashes");
    for (int i = 0; i < 9; ++i)
        folder.write("fulvex/crashes/100" + std::to_string(i) + "-1.txt", "note " + std::to_string(i));
    const auto notes = crashNotes();
    ASSERT_EQ(notes.size(), 5U);
    EXPECT_EQ(notes.front().text, "note 8\n");
    EXPECT_EQ(crashNotes().back().text, "note 4\n");
    EXPECT_FALSE(std::filesystem::exists(folder.path() / "fulvex/crashes/1000-1.txt"));
}

TEST_F(CrashNotes, WithoutAFolderTheProgramRunsAllTheSame)
{
    ::setenv("XDG_STATE_HOME", "/proc/none", 1);
    EXPECT_EQ(endOf([] { ::raise(SIGTERM); }), SIGTERM);
    EXPECT_TRUE(crashNotes().empty());
}
