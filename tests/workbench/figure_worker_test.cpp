#include "figure_worker.h"
#include "wait_for.h"

#include <gtest/gtest.h>
#include <latch>

using namespace fulvex;

namespace {

/// A picture of a number: made only once it may be.
struct Picture {
    struct From {
        int of;
        std::shared_ptr<std::latch> gate;
        bool operator==(const From &other) const { return of == other.of; }
    };
    static Picture of(const From &from)
    {
        if (from.gate) from.gate->wait();
        ++made;
        if (from.of < 0) throw std::runtime_error("no such number");
        return {from.of};
    }
    int number;
    static inline std::atomic<int> made = 0;
};

struct Figures : testing::Test {
    Figures() { Picture::made = 0; }
    bool idle()
    {
        return test::waitFor([this] { return !worker.busy(); });
    }
    FigureWorker worker;
    std::shared_ptr<std::latch> gate = std::make_shared<std::latch>(1);
};

} // namespace

TEST_F(Figures, OfWhatIsAskedForQuicklyTheFirstAndTheLastAreMadeAndShown)
{
    std::vector<int> shown;
    Drawn<Picture> drawn(worker, [&] { shown.push_back(drawn.newest()->number); });
    EXPECT_EQ(drawn.newest(), nullptr);
    drawn.want({1, gate});
    for (int i = 2; i <= 50; ++i) {
        if (i == 2) QTest::qWait(30); // the first has begun
        drawn.want({i, nullptr});
    }
    gate->count_down();
    ASSERT_TRUE(idle());
    EXPECT_EQ(shown, (std::vector{1, 50}));
    EXPECT_EQ(Picture::made, 2);
    drawn.want({50, nullptr}); // it is there
    EXPECT_FALSE(worker.busy());
}

TEST_F(Figures, EachGetsItsOwn)
{
    Drawn<Picture> one(worker, [] {}), other(worker, [] {});
    one.want({1, gate});
    other.want({2, nullptr});
    EXPECT_TRUE(worker.busy());
    gate->count_down();
    ASSERT_TRUE(idle());
    EXPECT_EQ(one.newest()->number, 1);
    EXPECT_EQ(other.newest()->number, 2);
}

TEST_F(Figures, WhatIsDroppedOrGoneGetsNothing)
{
    int came = 0;
    Drawn<Picture> dropped(worker, [&] { ++came; });
    {
        Drawn<Picture> gone(worker, [&] { ++came; });
        dropped.want({1, gate});
        gone.want({2, nullptr});
    }
    dropped.drop();
    gate->count_down();
    ASSERT_TRUE(idle());
    EXPECT_EQ(came, 0);
    EXPECT_EQ(dropped.newest(), nullptr);
    dropped.want({1, nullptr}); // asked for anew, it comes
    ASSERT_TRUE(idle());
    EXPECT_EQ(came, 1);
}

TEST_F(Figures, OneThatCannotBeMadeLeavesWhatWasThere)
{
    Drawn<Picture> drawn(worker, [] {});
    drawn.want({7, nullptr});
    ASSERT_TRUE(idle());
    drawn.want({-1, nullptr});
    ASSERT_TRUE(idle());
    EXPECT_EQ(drawn.newest()->number, 7);
    drawn.want({8, nullptr});
    ASSERT_TRUE(idle());
    EXPECT_EQ(drawn.newest()->number, 8);
}

TEST_F(Figures, AfterwardsIsAfterAllThatWasAskedFor)
{
    Drawn<Picture> one(worker, [] {}), other(worker, [] {});
    one.want({1, gate});
    other.want({2, nullptr});
    int seen = 0;
    worker.afterwards([&] { seen = one.newest()->number + other.newest()->number; });
    gate->count_down();
    ASSERT_TRUE(idle());
    EXPECT_EQ(seen, 3);
}

TEST(FigureWorker, GoesWhileSomethingIsBeingMade)
{
    const auto gate = std::make_shared<std::latch>(1);
    bool came = false;
    {
        FigureWorker worker;
        Drawn<Picture> drawn(worker, [&] { came = true; });
        drawn.want({1, gate});
        drawn.want({2, nullptr});
        gate->count_down();
    }
    QTest::qWait(20);
    EXPECT_FALSE(came);
}
