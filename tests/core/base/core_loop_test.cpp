#include "core_loop.h"

#include <atomic>
#include <gtest/gtest.h>
#include <stdexcept>
#include <thread>

using namespace fulvex;

TEST(CoreLoop, ALoopWithinALoopMakesAllOfItsCallsThoughAnotherThrows)
{
    std::atomic<int> cutShort = 0, whole = 0;
    for (int round = 0; round < 200; ++round) {
        const auto outer = [&](std::int64_t place) {
            if (place == round % 8) throw std::runtime_error("enough");
            std::atomic<int> made = 0;
            onAllCores(500, [&](std::int64_t) {
                ++made;
                std::this_thread::yield();
            });
            ++(made == 500 ? whole : cutShort);
        };
        EXPECT_THROW(onAllCores(8, outer), std::runtime_error);
    }
    EXPECT_EQ(cutShort, 0);
    EXPECT_GT(whole, 0);
}

TEST(CoreLoop, AnExceptionEndsItAndIsThrown)
{
    std::atomic<int> made = 0;
    const auto work = [&](std::int64_t index) {
        ++made;
        if (index == 3) throw std::invalid_argument("three");
    };
    EXPECT_THROW(onAllCores(100000, work), std::invalid_argument);
    EXPECT_GE(made, 1);
    made = 0;
    onAllCores(100000, [&](std::int64_t) { ++made; });
    EXPECT_EQ(made, 100000);
    onAllCores(0, [&](std::int64_t) { FAIL(); });
}
