#include "error.h"
#include "failure_text.h"
#include "program_log.h"
#include "temporary_folder.h"

#include <fstream>
#include <gmock/gmock.h>
#include <sstream>

using namespace fulvex;
using testing::HasSubstr;
using testing::Not;

namespace {

struct ProgramLog : testing::Test {
    ProgramLog() { setenv("XDG_STATE_HOME", folder.path().c_str(), 1); }
    ~ProgramLog() override
    {
        startLog("test", LogLevel::off);
        unsetenv("XDG_STATE_HOME");
    }
    std::string written()
    {
        std::ifstream file(folder / "fulvex/test.log");
        std::stringstream text;
        text << file.rdbuf();
        return text.str();
    }
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(ProgramLog, HoldsTheLinesOfItsLevelAndAbove)
{
    startLog("test", LogLevel::warning);
    logLine(LogLevel::error, "one");
    logLine(LogLevel::warning, "two {} %s"); // taken as it is
    logLine(LogLevel::info, "three");
    EXPECT_TRUE(isLogged(LogLevel::error));
    EXPECT_FALSE(isLogged(LogLevel::info));
    startLog("test", LogLevel::debug);
    logLine(LogLevel::debug, "four");
    startLog("test", LogLevel::off);
    logLine(LogLevel::error, "five");
    EXPECT_THAT(written(), testing::AllOf(HasSubstr("one"), HasSubstr("two {} %s"), Not(HasSubstr("three")),
                                          HasSubstr("four"), Not(HasSubstr("five"))));
}

TEST_F(ProgramLog, IsThreeFilesOfAMegabyteAtMost)
{
    startLog("test", LogLevel::info);
    const std::string line(1000, 'x');
    for (int i = 0; i < 5000; ++i) logLine(LogLevel::info, line);
    std::uintmax_t bytes = 0;
    int files = 0;
    for (const auto &entry : std::filesystem::directory_iterator(folder / "fulvex"))
        bytes += entry.file_size(), ++files;
    EXPECT_EQ(files, 3);
    EXPECT_LE(bytes, 3u << 20);
    EXPECT_GT(bytes, 1u << 20);
}

TEST_F(ProgramLog, WhereItCannotBeWrittenNothingElseChanges)
{
    setenv("XDG_STATE_HOME", "/proc/nowhere", 1);
    startLog("test", LogLevel::info);
    EXPECT_FALSE(isLogged(LogLevel::error));
    logLine(LogLevel::error, "lost");
}

TEST(WithoutNames, LeavesOutWhatIsQuotedAndWhatLooksLikeAPath)
{
    EXPECT_EQ(withoutNames("has no column named \"secret\" in it"), "has no column named \"…\" in it");
    EXPECT_EQ(withoutNames("cannot open /home/somebody/x.csv for reading"), "cannot open … for reading");
    EXPECT_EQ(withoutNames("captures/run.npy is truncated"), "… is truncated");
    EXPECT_EQ(withoutNames("plain words, 3 of 4"), "plain words, 3 of 4");
    EXPECT_EQ(withoutNames("an open \"quote"), "an open \"…\"");
    EXPECT_EQ(withoutNames(""), "");
}

TEST(FailureForLog, SaysWhatHappenedAndNotWhere)
{
    const auto of = [](auto &&fault) {
        try {
            throw fault;
        } catch (...) {
            return failureForLog();
        }
    };
    EXPECT_EQ(of(Error("/home/me/secret.csv", "has \"x\" twice", "remove one")), "has \"…\" twice");
    EXPECT_THAT(of(std::runtime_error("odd")), HasSubstr("odd"));
    EXPECT_EQ(of(7), "not an exception of any kind");
}
