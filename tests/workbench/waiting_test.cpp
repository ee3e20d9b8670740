#include "signals.h"
#include "temporary_folder.h"
#include "wait_for.h"
#include "workbench.h"

#include <QSignalSpy>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// A project that takes a while to compute.
QString slowProject(const test::TemporaryFolder &folder)
{
    test::DataSpec spec;
    spec.unitIntervals = 20000;
    folder.write("r.raw", test::bytesOf(test::makeData(spec).volts));
    return QString::fromStdString(folder.write("p.fulvex", R"({"fulvex": 1, "title": "p",
        "captures": [{"id": "r", "file": "r.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-10}}],
        "channels": [{"id": "a", "capture": "r"}], "clocks": [{"id": "k", "source": "a"}],
        "eyes": [{"id": "e", "source": "a", "clock": "k"}],
        "measurements": [{"id": "rise", "quantity": "rise_time", "source": "a"}]})"));
}

} // namespace

TEST(Waiting, WhatIsAskedForRightAfterACancelIsDone)
{
    const test::TemporaryFolder folder;
    Workbench bench;
    QSignalSpy failed(&bench, &Workbench::failed);
    bench.openProject(slowProject(folder));
    const auto scaled = [&](double scale) {
        bench.change("scale", [&](Document &document) { document.channels[0].scale = scale; });
    };
    for (int i = 0; i < 20; ++i) {
        scaled(2 + i);
        QTest::qWait(i % 4 * 3);
        scaled(30 + i); // the one before runs, this one waits
        bench.evaluator().cancel();
        bool done = false;
        const std::uint64_t revision = bench.revision();
        bench.whenUpToDate("a table", [&] {
            done = true;
            EXPECT_EQ(bench.revision(), revision);
            EXPECT_EQ(bench.results()->document->channels[0].scale, 30 + i);
        });
        ASSERT_TRUE(test::waitFor([&] { return !bench.waiting(); })) << i;
        EXPECT_TRUE(done) << i;
    }
    EXPECT_EQ(failed.count(), 0);
}

TEST(Waiting, ACancelTellsWhatIsNotDone)
{
    const test::TemporaryFolder folder;
    Workbench bench;
    QSignalSpy failed(&bench, &Workbench::failed);
    bench.openProject(slowProject(folder));
    bench.whenUpToDate("a table", [] { FAIL() << "nobody computed it"; });
    QTest::qWait(5);
    bench.evaluator().cancel();
    ASSERT_TRUE(test::waitFor([&] { return !bench.waiting(); }));
    ASSERT_EQ(failed.count(), 1);
    EXPECT_EQ(failed[0][0].toString(), "a table is not done: computing was stopped before the numbers were ready.");
}

TEST(Waiting, TracesWillDoAsSoonAsTheyAreThere)
{
    const test::TemporaryFolder folder;
    Workbench bench;
    bench.openProject(slowProject(folder));
    bool traces = false, numbers = false;
    bench.whenUpToDate("numbers", [&] { numbers = true; });
    bench.whenUpToDate(
        "traces",
        [&] {
            traces = true;
            EXPECT_FALSE(bench.complete());
            EXPECT_FALSE(numbers);
        },
        true);
    ASSERT_TRUE(test::waitFor([&] { return traces && numbers; }));
}
