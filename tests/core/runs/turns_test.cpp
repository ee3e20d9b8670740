#include "turns.h"

#include <atomic>
#include <gmock/gmock.h>
#include <stdexcept>

using namespace fulvex;

namespace {

using Places = std::vector<std::size_t>;

TEST(Turns, AreUsedInTheirOrderOnTheThreadThatRunsThem)
{
    for (std::size_t jobs = 1; jobs <= 4; ++jobs) {
        Turns<std::size_t> turns(jobs, 50, [](std::size_t, std::size_t at) {
            std::this_thread::sleep_for(std::chrono::microseconds(at % 7 * 100));
            return 10 * at;
        });
        Places used;
        turns.run([&, caller = std::this_thread::get_id()](std::size_t at, std::size_t made) {
            EXPECT_EQ(std::this_thread::get_id(), caller);
            EXPECT_EQ(made, 10 * at);
            used.push_back(at);
            return true;
        });
        ASSERT_EQ(used.size(), 50u);
        EXPECT_TRUE(std::ranges::is_sorted(used));
    }
}

TEST(Turns, AJobMakesOneAtATime)
{
    std::array<std::atomic<int>, 3> busy{};
    Turns<int> turns(3, 60, [&](std::size_t job, std::size_t) {
        EXPECT_EQ(busy.at(job)++, 0);
        std::this_thread::sleep_for(std::chrono::microseconds(200));
        --busy[job];
        return 0;
    });
    turns.run([](std::size_t, int) { return true; });
}

/// A short one does not wait for a long one beside it: while the first lasts, the other job makes all others.
TEST(Turns, ThatAreShortDoNotWaitForALongOne)
{
    std::atomic<int> others = 0;
    Turns<int> turns(2, 6, [&](std::size_t, std::size_t at) {
        if (at > 0) return int(++others);
        for (int i = 0; i < 5000 && others < 5; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(1));
        return int(others);
    });
    std::vector<int> made;
    turns.run([&](std::size_t, int one) {
        made.push_back(one);
        return true;
    });
    EXPECT_EQ(made.front(), 5);
}

TEST(Turns, ThatAreLongAreOneEach)
{
    std::atomic<int> begun = 0;
    Turns<int> turns(2, 20, [&](std::size_t, std::size_t) {
        ++begun;
        std::this_thread::sleep_for(2 * Turns<int>::lasting);
        return 0;
    });
    Places used;
    turns.run([&](std::size_t at, int) {
        used.push_back(at);
        return true;
    });
    EXPECT_EQ(used, (Places{0, 1}));
    EXPECT_EQ(begun, 2);
}

TEST(Turns, WhatFailsIsToldAfterThoseBeforeIt)
{
    for (std::size_t jobs = 1; jobs <= 3; ++jobs) {
        Turns<int> turns(jobs, 20, [](std::size_t, std::size_t at) {
            if (at == 7) throw std::runtime_error("torn");
            if (at < 7) std::this_thread::sleep_for(std::chrono::milliseconds(1));
            return 0;
        });
        Places used;
        const auto use = [&](std::size_t at, int) {
            used.push_back(at);
            return true;
        };
        EXPECT_THROW(turns.run(use), std::runtime_error);
        EXPECT_EQ(used, (Places{0, 1, 2, 3, 4, 5, 6}));
    }
}

TEST(Turns, EndWhereTheirUserDoes)
{
    std::atomic<std::size_t> begun = 0;
    Places used;
    {
        Turns<int> turns(2, 1000, [&](std::size_t, std::size_t) {
            ++begun;
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
            return 0;
        });
        turns.run([&](std::size_t at, int) {
            used.push_back(at);
            return at < 3;
        });
    }
    EXPECT_EQ(used.size(), 4u);
    EXPECT_LT(begun, 60u); // what was under way, and not all of them
}

} // namespace
