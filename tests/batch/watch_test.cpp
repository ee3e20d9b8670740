// Runs that the project names, and folders that are watched, from the command line.

#include "batch_program.h"
#include "npy_files.h"

#include <chrono>
#include <csignal>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <set>
#include <thread>

using namespace fulvex;
using namespace std::chrono_literals;

namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

class Watching : public testing::Test {
protected:
    Watching()
    {
        fs::create_directory(folder / "night");
        for (int i = 1; i <= 5; ++i) capture(i);
        project({});
    }
    ~Watching() override // whatever failed, nothing goes on
    {
        while (!m_begun.empty()) end(*m_begun.begin(), SIGKILL);
    }
    void project(const std::string &run) const
    {
        folder.write("link.fulvex", R"({"fulvex": 1, "title": "night",
            "captures": [{"id": "r", "file": "night/c1.npy", "import": {"sample_interval": 1e-10})" +
                                        run + R"(}],
            "channels": [{"id": "a", "capture": "r"}],
            "clocks": [{"id": "loop", "source": "a", "method": "pll", "order": 2, "bandwidth": 5e6}],
            "eyes": [{"id": "eye1", "source": "a", "clock": "loop"}],
            "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x"}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"}]})");
    }
    static std::string nameOf(int number) { return "night/c" + std::to_string(number) + ".npy"; }
    void capture(int number, bool noisy = false) const
    {
        test::DataSpec spec;
        spec.unitIntervals = 2000;
        spec.samplesPerUi = 8;
        spec.noise = noisy ? 0.2 : 0.006;
        spec.seed = std::uint64_t(number);
        test::writeNpy(folder / nameOf(number), test::makeData(spec).volts);
    }
    test::Outcome run(const std::string &arguments) const { return test::runBatch(folder, arguments); }
    Json resultsIn(const std::string &out) const
    {
        return Json::parse(test::readAll(folder / (out + "/results.json")), nullptr, false);
    }
    /// Begins a watch that goes on until it is told to end.
    pid_t begin(const std::string &out)
    {
        const pid_t process = fork();
        if (process == 0) {
            [[maybe_unused]] const int failed = chdir(folder.path().c_str());
            setenv("XDG_CACHE_HOME", "cache", 1);
            execl(FULVEX_BATCH, FULVEX_BATCH, "watch", "link.fulvex", "-q", "--capture", "r=night", "--out",
                  out.c_str(), nullptr);
            _exit(127);
        }
        m_begun.insert(process);
        return process;
    }
    int end(pid_t process, int how)
    {
        kill(process, how);
        int status = 0;
        waitpid(process, &status, 0);
        m_begun.erase(process);
        return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    }
    /// Waits until results.json says that so many captures, or more, were counted; it is whole whenever it is there.
    bool counts(const std::string &out, std::size_t captures) const
    {
        for (int i = 0; i < 300; ++i, std::this_thread::sleep_for(100ms)) {
            if (!fs::exists(folder / (out + "/results.json"))) continue;
            const Json results = resultsIn(out);
            EXPECT_FALSE(results.is_discarded()) << "it is not whole";
            if (results.is_discarded()) return false;
            if (results["captures"].size() >= captures) return true;
        }
        return false;
    }
    /// Of the same captures, whatever their folders are called.
    void expectSame(const std::string &one, const std::string &other) const
    {
        const Json a = resultsIn(one), b = resultsIn(other);
        EXPECT_EQ(a["eyes"], b["eyes"]);
        EXPECT_EQ(a["masks"][0]["hits"], b["masks"][0]["hits"]);
        EXPECT_EQ(a["measurements"][0]["count"], b["measurements"][0]["count"]);
        EXPECT_EQ(a["measurements"][0]["mean"], b["measurements"][0]["mean"]);
        EXPECT_EQ(a["captures"].size(), b["captures"].size());
    }
    test::TemporaryFolder folder;

private:
    std::set<pid_t> m_begun;
};

} // namespace

TEST_F(Watching, ARunOfTheProjectIsWhatItsCapturesGive)
{
    std::string captures;
    for (int i = 1; i <= 5; ++i) captures += " --capture r=" + nameOf(i);
    EXPECT_EQ(run("run link.fulvex" + captures + " --out given").status, 0);
    project(R"(, "run": {"files": "night"})");
    EXPECT_EQ(run("run link.fulvex --out folder --jobs 2").status, 0);
    expectSame("given", "folder");
    project(R"(, "run": {"files": ["night/c1.npy", "night/c[2-5].npy"]})");
    EXPECT_EQ(run("run link.fulvex --out pattern").status, 0);
    expectSame("given", "pattern");
    EXPECT_EQ(run("run link.fulvex --capture 'r=night/c*.npy' --out asked").status, 0);
    expectSame("given", "asked");
    project(R"(, "run": {"files": "night", "left_out": {"night/c3.npy": "the probe fell off"}})");
    EXPECT_EQ(run("run link.fulvex --out four").status, 0);
    EXPECT_EQ(resultsIn("four")["captures"].size(), 4u);
    project(R"(, "run": {"files": "none*"})");
    const auto none = run("run link.fulvex --out none");
    EXPECT_EQ(none.status, 2);
    EXPECT_THAT(none.err, testing::HasSubstr("by a pattern or a folder that has none"));
}

TEST_F(Watching, ARunEndsAtFailuresWhateverComesFirst)
{
    for (const int number : {2, 4}) capture(number, true);
    project(R"(, "run": {"files": "night", "stop_at": 1})");
    for (const char *jobs : {"1", "3"}) {
        const auto outcome = run(std::string("run link.fulvex --out at_one --jobs ") + jobs);
        EXPECT_EQ(outcome.status, 1);
        EXPECT_THAT(outcome.err, testing::HasSubstr("ended by failed captures"));
        EXPECT_EQ(resultsIn("at_one")["captures"].size(), 2u) << jobs;
    }
}

TEST_F(Watching, AFolderIsCountedAsItGrowsAndEndsWhenNothingComes)
{
    const auto outcome = run("watch link.fulvex --capture r=night --out out --idle 1 --junit v.xml");
    EXPECT_EQ(outcome.status, 0) << outcome.err;
    EXPECT_THAT(outcome.err, testing::HasSubstr("5 counted, 0 failed"));
    EXPECT_TRUE(fs::exists(folder / "out/report.pdf"));
    EXPECT_THAT(test::readAll(folder / "v.xml"), testing::HasSubstr("c5.npy"));
    project(R"(, "run": {"files": "night"})");
    EXPECT_EQ(run("run link.fulvex --out whole").status, 0);
    expectSame("out", "whole");
    // Begun again it counts what came since, and nothing twice.
    capture(6);
    EXPECT_THAT(run("watch link.fulvex --capture r=night --out out --idle 1").err,
                testing::AllOf(testing::HasSubstr("6 counted"), testing::Not(testing::HasSubstr("5 counted"))));
    EXPECT_EQ(run("run link.fulvex --out whole").status, 0);
    expectSame("out", "whole");
}

TEST_F(Watching, WhatWasCountedOutlivesAKill)
{
    const pid_t first = begin("out");
    ASSERT_TRUE(counts("out", 1));
    end(first, SIGKILL);
    const pid_t second = begin("out");
    ASSERT_TRUE(counts("out", 5));
    capture(6);
    ASSERT_TRUE(counts("out", 6));
    EXPECT_EQ(end(second, SIGTERM), 0);
    project(R"(, "run": {"files": "night"})");
    EXPECT_EQ(run("run link.fulvex --out whole").status, 0);
    expectSame("out", "whole");
}

TEST_F(Watching, FilesThatAreWrittenReplacedAndVanishDoNoHarm)
{
    const pid_t process = begin("out");
    ASSERT_TRUE(counts("out", 5));
    capture(7);
    const std::string whole = test::readAll(folder / nameOf(7));
    fs::remove(folder / nameOf(7));
    for (const double share : {0.1, 0.4, 0.8}) { // written slowly
        folder.write("night/c6.npy", whole.substr(0, std::size_t(share * double(whole.size()))));
        std::this_thread::sleep_for(700ms);
    }
    folder.write("night/c6.npy", whole);
    folder.write("night/passing.npy", whole.substr(0, 200));
    std::this_thread::sleep_for(200ms);
    fs::remove(folder / "night/passing.npy");
    ASSERT_TRUE(counts("out", 6));
    fs::remove(folder / nameOf(1));                      // goes
    folder.write("night/c2.npy", whole.substr(0, 1000)); // shrinks
    capture(3, true);                                    // is another one
    std::this_thread::sleep_for(3s);
    const Json results = resultsIn("out");
    EXPECT_EQ(results["captures"].size(), 6u);
    EXPECT_EQ(results["masks"][0]["failed_unit_intervals"], 0);
    EXPECT_EQ(end(process, SIGINT), 0);
}

TEST_F(Watching, OfAnotherStateOfTheProjectNothingIsGoneOnWith)
{
    EXPECT_EQ(run("watch link.fulvex --capture r=night --out out --idle 1").status, 0);
    const std::string before = test::readAll(folder / "out/results.json");
    std::string text = test::readAll(folder / "link.fulvex");
    text.replace(text.find("5e6"), 3, "4e6");
    folder.write("link.fulvex", text);
    const auto refused = run("watch link.fulvex --capture r=night --out out --idle 1");
    EXPECT_EQ(refused.status, 2);
    EXPECT_THAT(refused.err, testing::HasSubstr("another project, or another state of this one"));
    EXPECT_EQ(test::readAll(folder / "out/results.json"), before);
    EXPECT_EQ(run("watch link.fulvex --out out").status, 2); // of no folder
}

TEST_F(Watching, EndsAtFailures)
{
    capture(3, true);
    const auto outcome = run("watch link.fulvex --capture r=night --out out --stop-at 1");
    EXPECT_EQ(outcome.status, 1);
    EXPECT_THAT(outcome.err, testing::HasSubstr("ended by failed captures"));
}
