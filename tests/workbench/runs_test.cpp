// Runs and live sources while the document changes, is replaced, and closes: what is told is of what is open.

#include "npy_files.h"
#include "simulator.h"
#include "temporary_folder.h"
#include "wait_for.h"
#include "workbench.h"

#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

namespace fs = std::filesystem;

struct Nights {
    Nights()
    {
        for (const char *name : {"a", "b"}) {
            fs::create_directory(folder / name);
            for (int i = 1; i <= 6; ++i) {
                test::DataSpec spec;
                spec.unitIntervals = 600;
                spec.samplesPerUi = 8;
                spec.seed = std::uint64_t(i + (*name == 'b' ? 10 : 0));
                test::writeNpy(folder / (std::string(name) + "/c" + std::to_string(i) + ".npy"),
                               test::makeData(spec).volts);
            }
            folder.write(std::string(name) + ".fulvex", R"({"fulvex": 1, "captures": [{"id": "r",
                "import": {"sample_interval": 1e-10}, "run": {"files": ")" +
                                                            std::string(name) + R"("}}],
                "channels": [{"id": "a", "capture": "r"}],
                "clocks": [{"id": "loop", "source": "a", "method": "pll", "order": 2, "bandwidth": 8e6}],
                "eyes": [{"id": "eye1", "source": "a", "clock": "loop"}],
                "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"}]})");
        }
    }
    QString project(const char *name) const { return QString::fromStdString(folder / (std::string(name) + ".fulvex")); }
    test::TemporaryFolder folder;
};

/// Whether what a workbench shows of its run is of its project.
void expectOwn(const Workbench &bench, const std::string &folder)
{
    if (!bench.run()) return;
    EXPECT_EQ(bench.run()->session, bench.session());
    for (const RunMember &member : bench.run()->members) EXPECT_EQ(member.name.substr(0, 2), folder + "/");
    if (!bench.run()->all) return;
    for (const CountedCapture &one : bench.run()->all->counted) EXPECT_EQ(one.name.substr(0, 2), folder + "/");
}

} // namespace

TEST(RunsOfTheWorkbench, AreOfTheProjectThatIsOpen)
{
    const Nights nights;
    Workbench bench;
    std::mt19937 random(7);
    std::string open;
    QObject::connect(&bench, &Workbench::runChanged, [&] { expectOwn(bench, open); });
    for (int step = 0; step < 25; ++step) {
        switch (random() % 6) {
        case 0:
        case 1:
            open = random() % 2 ? "a" : "b";
            bench.openProject(nights.project(open.c_str()));
            break;
        case 2:
            bench.change("bandwidth", [&](Document &document) {
                for (ClockEntry &clock : document.clocks) clock.bandwidth = 6e6 + 1e5 * double(random() % 20);
            });
            break;
        case 3:
            bench.stepMember(random() % 2 ? 1 : -1);
            break;
        case 4:
            bench.runKeeper().countAnew();
            break;
        default:
            bench.change("out", [&](Document &document) {
                for (CaptureEntry &capture : document.captures) capture.run.leftOut[open + "/c2.npy"] = "why not";
            });
        }
        QTest::qWait(int(random() % 60));
        expectOwn(bench, open);
    }
    open = "b";
    bench.openProject(nights.project("b"));
    ASSERT_TRUE(test::waitFor([&] { return bench.run() && bench.run()->counted == 6 && !bench.run()->working; }));
    // What was counted through all that is what is counted in peace.
    RunGathering alone(FULVEX_SHIPPED_MASKS);
    alone.follow(bench.document(), bench.base());
    alone.look();
    Progress progress;
    while (alone.hasNext()) alone.takeNext(progress);
    EXPECT_EQ(alone.all()->rows[0].statistics.mean, bench.run()->all->rows[0].statistics.mean);
    EXPECT_EQ(alone.all()->eyes[0].fold->picture.counts, bench.run()->all->eyes[0].fold->picture.counts);
}

TEST(RunsOfTheWorkbench, WhatComesForOneProjectIsNotCountedInAnother)
{
    // Both watch a folder by an entry of the same name; captures are told of just before the other is opened.
    const Nights nights;
    for (const char *name : {"a", "b"}) {
        std::string text = test::readAll(nights.folder / (std::string(name) + ".fulvex"));
        text.insert(text.find("\"files\""), "\"watched\": true, ");
        nights.folder.write(std::string(name) + ".fulvex", text);
    }
    Workbench bench;
    for (int turn = 0; turn < 10; ++turn) {
        const std::string open = turn % 2 ? "b" : "a", other = turn % 2 ? "a" : "b";
        bench.openProject(nights.project(open.c_str()));
        for (int i = 1; i <= 3; ++i) bench.runKeeper().arrive("r", open + "/c" + std::to_string(i) + ".npy");
        bench.openProject(nights.project(other.c_str()));
        ASSERT_TRUE(test::waitFor([&] { return bench.run() && bench.run()->all; }));
        expectOwn(bench, other);
    }
}

TEST(RunsOfTheWorkbench, GoAwayWhileTheyCount)
{
    const Nights nights;
    for (const int wait : {0, 5, 30, 80, 150}) {
        Workbench bench;
        bench.openProject(nights.project("a"));
        QTest::qWait(wait);
    }
}

TEST(RunsOfTheWorkbench, ALiveSourceEndsWithItsProject)
{
    const test::Simulator simulator({.samples = 5000, .mostPerSecond = 200, .faultEvery = 5});
    const test::TemporaryFolder folder;
    for (const int wait : {0, 20, 100, 400}) {
        Workbench bench;
        const std::string id = bench.addLive(QString::fromStdString(simulator.address()), "brackwater");
        ASSERT_FALSE(id.empty());
        bench.change("folder", [&](Document &document) {
            document.captures[0].live.folder = folder / std::to_string(wait);
            document.captures[0].run.files = {folder / (std::to_string(wait) + "/live-*.sigmf-meta")};
        });
        ASSERT_TRUE(bench.acquire(id, 0));
        QTest::qWait(wait);
        if (wait == 100) {
            bench.newProject();
            EXPECT_FALSE(bench.live().running());
            QTest::qWait(50);
            EXPECT_TRUE(bench.document().captures.empty());
            EXPECT_EQ(bench.run(), nullptr);
        }
    }
}
