#include "errands.h"
#include "error.h"

#include <QCoreApplication>
#include <atomic>
#include <gtest/gtest.h>
#include <latch>

using namespace fulvex;

TEST(Errands, RunInTheOrderAskedForAndTellWhenDone)
{
    Errands errands;
    std::vector<int> done;
    std::atomic<int> working = 0;
    for (int i = 0; i < 5; ++i) {
        errands.run(
            [&working](Progress &) {
                EXPECT_EQ(working++, 0); // one at a time
                --working;
            },
            [&done, i] { done.push_back(i); });
    }
    EXPECT_TRUE(errands.busy());
    errands.finish();
    EXPECT_FALSE(errands.busy());
    EXPECT_EQ(done, (std::vector{0, 1, 2, 3, 4}));
}

TEST(Errands, AFailureIsToldOnceAndTheNextGoesOn)
{
    Errands errands;
    QStringList told;
    bool wrongly = false, next = false;
    QObject::connect(&errands, &Errands::failed, [&](const QString &message) { told << message; });
    errands.run([](Progress &) { throw Error("disk", "is full", "make room"); }, [&] { wrongly = true; });
    errands.run([](Progress &) {}, [&] { next = true; });
    errands.finish();
    ASSERT_EQ(told.size(), 1);
    EXPECT_TRUE(told[0].contains("is full")) << told[0].toStdString();
    EXPECT_FALSE(wrongly);
    EXPECT_TRUE(next);
}

TEST(Errands, CancelStopsTheOneThatRunsWithoutAWord)
{
    Errands errands;
    bool wrongly = false, next = false, told = false;
    std::latch started(1);
    QObject::connect(&errands, &Errands::failed, [&] { told = true; });
    errands.run(
        [&](Progress &progress) {
            progress.expect(2);
            progress.advance(1);
            started.count_down();
            while (true) progress.advance(0);
        },
        [&] { wrongly = true; });
    errands.run([](Progress &) {}, [&] { next = true; });
    started.wait();
    EXPECT_EQ(errands.fraction(), 0.5);
    errands.cancel();
    errands.finish();
    EXPECT_FALSE(wrongly);
    EXPECT_FALSE(told);
    EXPECT_TRUE(next);
}

TEST(Errands, GoAwayWhileOneRuns)
{
    std::latch started(1);
    bool wrongly = false;
    {
        Errands errands;
        errands.run(
            [&](Progress &progress) {
                started.count_down();
                while (true) progress.advance(0);
            },
            [&] { wrongly = true; });
        started.wait();
    }
    QCoreApplication::processEvents();
    EXPECT_FALSE(wrongly);
}
