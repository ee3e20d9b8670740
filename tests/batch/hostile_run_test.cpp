// The command line against files that are no files, names that are no text, disks that refuse, and being killed.

#include "batch_program.h"
#include "fingerprint.h"
#include "signals.h"

#include <cstdio>
#include <fcntl.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace fulvex;
using testing::HasSubstr;
namespace fs = std::filesystem;

namespace {

class HostileRun : public testing::Test {
protected:
    test::Outcome run(const std::string &arguments) { return test::runBatch(folder, arguments); }
    /// Exit 2, one line on stderr with these words, nothing that is no text.
    void refused(const std::string &arguments, const std::string &words)
    {
        const test::Outcome outcome = run(arguments);
        EXPECT_EQ(outcome.status, 2) << arguments << outcome.err;
        EXPECT_THAT(outcome.err, HasSubstr(words)) << arguments;
        EXPECT_EQ(std::count(outcome.err.begin(), outcome.err.end(), '\n'), 1) << outcome.err;
    }
    std::string samples(std::size_t count, double value = 1)
    {
        std::vector<double> volts(count);
        for (std::size_t i = 0; i < count; ++i) volts[i] = (i / 100) % 2 ? value : -value;
        return test::bytesOf(volts);
    }
    void project(const std::string &name, const std::string &file, const std::string &title = "t",
                 const std::string &unit = "V")
    {
        const nlohmann::json json{
            {"fulvex", 1},
            {"title", title},
            {"captures",
             {{{"id", "c"},
               {"file", file},
               {"import", {{"format", "raw"}, {"sample_type", "f64"}, {"sample_interval", 1e-9}}}}}},
            {"channels", {{{"id", "a"}, {"capture", "c"}, {"unit", unit}}}},
            {"measurements",
             {{{"id", "m"}, {"quantity", "mean"}, {"source", "a"}},
              {{"id", "tr"}, {"quantity", "rise_time"}, {"source", "a"}}}}};
        folder.write(name, json.dump());
    }
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(HostileRun, WhatIsNoRegularFileIsToldAtOnce)
{
    ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
    ASSERT_EQ(::mkfifo((folder / "pipe.fulvex").c_str(), 0600), 0);
    project("p.fulvex", "pipe");
    refused("run p.fulvex", "pipe: is not a regular file");
    refused("run pipe.fulvex", "pipe.fulvex: is not a regular file");
    refused("info pipe", "pipe: is not a regular file");
    refused("info /dev/zero", "/dev/zero: is not a regular file");
    folder.write("a.raw", samples(1000));
    project("q.fulvex", "a.raw");
    fs::create_directories(folder / "cache/fulvex");
    ASSERT_EQ(::mkfifo((folder / "cache/fulvex/pyramids").c_str(), 0600), 0); // where a folder should be
    EXPECT_EQ(run("run q.fulvex --out out").status, 0);
}

TEST_F(HostileRun, ACaptureThatIsCutWhileItIsReadIsAMessage)
{
    const std::string path = folder.write("a.raw", samples(6'000'000));
    project("p.fulvex", "a.raw");
    int told = 0;
    for (int round = 0; round < 6; ++round) {
        folder.write("a.raw", samples(6'000'000));
        std::jthread cutting([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(15 + 12 * round));
            ASSERT_EQ(::truncate(path.c_str(), 4096), 0);
        });
        const test::Outcome outcome = run("run p.fulvex --out out");
        cutting.join();
        EXPECT_THAT(outcome.status, testing::AnyOf(0, 2)) << outcome.err; // never killed by a signal
        told += outcome.status == 2;
        EXPECT_TRUE(outcome.status == 0 || outcome.err.find("a.raw") != std::string::npos) << outcome.err;
    }
    EXPECT_GT(told, 0);
}

TEST_F(HostileRun, NamesThatAreNoUtf8EndInNoLibrarysWords)
{
    const std::string name = "t\xFF\xFE.raw";
    folder.write(name, samples(1000));
    project("p.fulvex", "a.raw");
    folder.write("a.raw", samples(1000));
    EXPECT_EQ(run("run p.fulvex --capture 'c=" + name + "' --out out").status, 0);
    EXPECT_TRUE(nlohmann::json::accept(test::readAll(folder / "out/results.json")));
    folder.write("h\xB5.csv", "t (\xB5s),v\xFF (V)\n0,1\n1,2\n2,1\n");
    const test::Outcome info = run("info --json 'h\xB5.csv'");
    EXPECT_EQ(info.status, 0) << info.err;
    EXPECT_TRUE(nlohmann::json::accept(info.out)) << info.out;
    folder.write("s.sigmf-meta", "{\"global\": {\"core:datatype\": \"\xFF\xFE\"}}");
    folder.write("s.sigmf-data", "1234");
    refused("info s.sigmf-meta", "s.sigmf-meta: line 1: is not valid JSON");
    const auto withMask = [](std::size_t letters) {
        return R"({"fulvex": 1, "captures": [{"id": "c", "file": "a.csv"}], "channels": [{"id": "a", "capture": "c"}],
        "clocks": [{"id": "k", "source": "a"}], "eyes": [{"id": "e", "source": "a", "clock": "k"}],
        "masks": [{"id": "m", "eye": "e", "mask": ")" +
               std::string(letters, 'm') + "\"}]}";
    };
    folder.write("m.fulvex", withMask(5000));
    folder.write("n.fulvex", withMask(5));
    folder.write("a.csv", "t,v\n0,1\n1,2\n2,1\n3,2\n");
    refused("run m.fulvex", "masks[0].mask: has 5000 bytes");
    refused("run n.fulvex --capture 'x\x1b[31m=1'", "the project has no capture");
}

TEST_F(HostileRun, WhatStandsInTitlesAndUnitsStaysText)
{
    folder.write("a.raw", samples(1000));
    project("p.fulvex", "a.raw", "<script>\x1b]0;x\x07", "=1+1");
    const test::Outcome shown = run("run p.fulvex");
    EXPECT_EQ(shown.out.find('\x1b'), std::string::npos);
    ASSERT_EQ(run("run p.fulvex --out out").status, 0);
    EXPECT_THAT(test::readAll(folder / "out/measurements.csv"), HasSubstr(",'=1+1,"));
    const std::string html = test::readAll(folder / "out/report.html");
    EXPECT_EQ(html.find_first_of("\x1b\x07"), std::string::npos);
    EXPECT_EQ(html.find("<script>"), std::string::npos);
    project("q.fulvex", "a.raw", "t", "\rx");
    ASSERT_EQ(run("run q.fulvex --out out").status, 0);
    EXPECT_THAT(test::readAll(folder / "out/measurements.csv"), HasSubstr("\"'\rx\""));
}

TEST_F(HostileRun, AFileThatCannotBeWrittenLeavesAllAsTheyWere)
{
    folder.write("a.raw", samples(1000));
    project("p.fulvex", "a.raw");
    ASSERT_EQ(run("run p.fulvex --out out").status, 0);
    std::map<std::string, std::string> before;
    for (const char *name : {"results.json", "measurements.csv", "report.html"})
        before[name] = test::readAll(folder.path() / "out" / name);
    fs::remove(folder / "out/report.pdf");
    fs::create_directory(folder / "out/report.pdf");
    project("p.fulvex", "a.raw", "another title");
    refused("run p.fulvex --out out", "report.pdf: cannot be written");
    for (const auto &[name, bytes] : before) EXPECT_EQ(test::readAll(folder.path() / "out" / name), bytes) << name;
}

/// Whether the files that lie there were written by one run: what results.json says, which comes last.
static bool belongTogether(const fs::path &out)
{
    if (!fs::exists(out / "results.json")) return false;
    const auto results = nlohmann::json::parse(test::readAll(out / "results.json"));
    for (const auto &[name, sha] : results["files"].items()) {
        if (sha256(test::readAll(out / name)) != sha.get<std::string>()) return false;
    }
    return results["files"].size() == 3;
}

TEST_F(HostileRun, KilledAtAnyMomentAReaderCanTellASetThatBelongsTogether)
{
    folder.write("a.raw", samples(20'000));
    project("p.fulvex", "a.raw", "first");
    ASSERT_EQ(run("run p.fulvex --out out").status, 0);
    ASSERT_TRUE(belongTogether(folder / "out"));
    std::mt19937 random(3);
    int whole = 0, torn = 0, killed = 0;
    for (int round = 0; round < 60; ++round) {
        project("p.fulvex", "a.raw", "round " + std::to_string(round));
        const pid_t child = ::fork();
        if (child == 0) {
            ::setenv("QT_QPA_PLATFORM", "offscreen", 1);
            ::setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
            if (::chdir(folder.path().c_str()) != 0) ::_exit(9);
            ::freopen("/dev/null", "w", stderr);
            ::execl(FULVEX_BATCH, FULVEX_BATCH, "run", "p.fulvex", "--out", "out", nullptr);
            ::_exit(9);
        }
        std::this_thread::sleep_for(std::chrono::microseconds(std::uniform_int_distribution(1000, 160'000)(random)));
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        killed += WIFSIGNALED(status);
        (belongTogether(folder / "out") ? whole : torn) += 1;
        for (const char *name : {"results.json", "measurements.csv", "report.html", "report.pdf"})
            EXPECT_GT(fs::file_size(folder.path() / "out" / name), 100u) << name; // each is whole by itself
    }
    EXPECT_GT(killed, 10);
    EXPECT_GT(whole, 50) << torn; // what lies between the renames is rare, and told
    ASSERT_EQ(run("run p.fulvex --out out").status, 0);
    EXPECT_TRUE(belongTogether(folder / "out"));
    EXPECT_EQ(std::distance(fs::directory_iterator(folder / "out"), {}), 4); // what was left is cleaned
}
