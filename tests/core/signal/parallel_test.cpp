// Parts that are taken in the order of their chunks, whoever makes them.

#include "parallel.h"

#include <atomic>
#include <chrono>
#include <gtest/gtest.h>
#include <numeric>
#include <oneapi/tbb/global_control.h>
#include <stdexcept>
#include <thread>

using namespace fulvex;

namespace {

struct Part {
    std::int64_t first = -1, last = -1;
    int used = 0;
};

} // namespace

TEST(Chunks, CoverTheRangeOnce)
{
    for (const SampleRange range : {SampleRange{0, 0}, SampleRange{5, 6}, SampleRange{3, 23}, SampleRange{3, 24}}) {
        std::int64_t at = range.first;
        for (const SampleRange &chunk : chunksOf(range, 10)) {
            EXPECT_EQ(chunk.first, at);
            EXPECT_TRUE(chunk.size() == 10 || chunk.last == range.last);
            EXPECT_GT(chunk.size(), 0);
            at = chunk.last;
        }
        EXPECT_EQ(at, range.last);
    }
}

TEST(Chunks, AreTakenInOrderWhateverTheyLast)
{
    Progress progress;
    for (const std::size_t cores : {1, 2}) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, cores);
        std::vector<std::int64_t> firsts;
        std::atomic<int> made = 0;
        int mostHeld = 0, taken = 0;
        inChunksTaken<Part>(
            chunksOf({0, 1000}, 10), progress,
            [&](SampleRange mine, Part &part) {
                if (mine.first % 70 == 0) std::this_thread::sleep_for(std::chrono::milliseconds(2));
                part.first = mine.first, part.last = mine.last, ++part.used;
                ++made;
            },
            [&](Part &part, std::size_t index) { // by one at a time
                EXPECT_EQ(part.first, std::int64_t(index) * 10);
                EXPECT_EQ(part.last - part.first, 10);
                firsts.push_back(part.first);
                mostHeld = std::max(mostHeld, made - taken++);
            });
        ASSERT_EQ(firsts.size(), 100u);
        EXPECT_TRUE(std::is_sorted(firsts.begin(), firsts.end()));
        if (cores == 1) {
            EXPECT_EQ(mostHeld, 1);
        }
    }
}

TEST(Chunks, PartsAreUsedAgain)
{
    Progress progress;
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    int used = 0;
    inChunksTaken<Part>(
        chunksOf({0, 100}, 10), progress, [](SampleRange, Part &part) { ++part.used; },
        [&](Part &part, std::size_t) { used = std::max(used, part.used); });
    EXPECT_EQ(used, 10);
}

TEST(Chunks, EndWithTheFirstErrorAndWithACancel)
{
    for (const bool inTake : {false, true}) {
        Progress progress;
        std::atomic<int> begun = 0;
        const auto fails = [&] {
            inChunksTaken<Part>(
                chunksOf({0, 100000}, 1), progress,
                [&](SampleRange mine, Part &) {
                    ++begun;
                    if (!inTake && mine.first == 50) throw std::runtime_error("no more");
                },
                [&](Part &, std::size_t index) {
                    if (inTake && index == 50) throw std::runtime_error("no more");
                });
        };
        EXPECT_THROW(fails(), std::runtime_error);
        EXPECT_LT(begun, 50000);
    }
    Progress progress;
    int taken = 0;
    const auto cancelled = [&] {
        inChunksTaken<Part>(
            chunksOf({0, 100000}, 1), progress, [](SampleRange, Part &) {},
            [&](Part &, std::size_t index) {
                ++taken;
                if (index == 20) progress.cancel();
            });
    };
    EXPECT_THROW(cancelled(), Cancelled);
    EXPECT_LT(taken, 50000);
}
