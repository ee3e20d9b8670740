#include "edge_list.h"
#include "node_cache.h"

#include <gtest/gtest.h>
#include <stdexcept>
#include <thread>

using namespace fulvex;

namespace {

/// A node of `bytes` or a little more.
EdgeList large(std::size_t bytes)
{
    EdgeList edges;
    edges.positions.resize(bytes / sizeof(double));
    return edges;
}

struct Counted {
    NodeCache cache{10000};
    int made = 0;
    /// Uses a node of 1000 bytes.
    void use(const std::string &key, std::size_t bytes = 1000, bool passing = false)
    {
        const auto make = [&] {
            ++made;
            return large(bytes);
        };
        cache.get<EdgeList>(key, make, passing);
    }
    bool has(const std::string &key) { return cache.peek<EdgeList>(key) != nullptr; }
};

} // namespace

TEST(NodeCache, KeepsToItsBudgetAndForgetsWhatWasNotUsedForLongest)
{
    Counted nodes;
    nodes.cache.beginRun();
    for (int i = 0; i < 8; ++i) nodes.use("edges-" + std::to_string(i));
    nodes.cache.beginRun();
    nodes.use("edges-0"); // used again
    for (int i = 8; i < 12; ++i) nodes.use("edges-" + std::to_string(i));
    EXPECT_LE(nodes.cache.bytes(), 10000u);
    EXPECT_TRUE(nodes.has("edges-0"));
    EXPECT_FALSE(nodes.has("edges-1"));
    EXPECT_TRUE(nodes.has("edges-7"));
    EXPECT_EQ(nodes.made, 12);
    nodes.use("edges-1");
    EXPECT_EQ(nodes.made, 13);
}

TEST(NodeCache, WhatPassesGoesWithItsRun)
{
    Counted nodes;
    nodes.cache.beginRun();
    nodes.use("part-1", 1000, true);
    nodes.use("part-2", 1000, true);
    EXPECT_TRUE(nodes.has("part-1")); // which asks, and wants it no longer
    nodes.use("part-2");              // but this one stands in for the whole
    nodes.use("whole-1");
    nodes.use("whole-1", 1000, true);
    const std::size_t all = nodes.cache.bytes();
    nodes.cache.beginRun(); // it came to no end
    nodes.use("part-1", 1000, true);
    EXPECT_EQ(nodes.made, 3);
    nodes.cache.endRun();
    EXPECT_FALSE(nodes.has("part-1"));
    EXPECT_TRUE(nodes.has("part-2"));
    EXPECT_TRUE(nodes.has("whole-1"));
    EXPECT_LT(nodes.cache.bytes(), all);
}

TEST(NodeCache, WhatIsShownAndWhatIsBeingComputedStayWhateverTheyTake)
{
    Counted nodes;
    nodes.cache.beginRun();
    for (int i = 0; i < 20; ++i) nodes.use("shown-" + std::to_string(i));
    nodes.cache.endRun();
    for (int run = 0; run < 5; ++run) { // none of them comes to its end
        nodes.cache.beginRun();
        for (int i = 0; i < 20; ++i) nodes.use("run-" + std::to_string(run) + "," + std::to_string(i));
        EXPECT_TRUE(nodes.has("run-" + std::to_string(run) + ",0"));
    }
    for (int i = 0; i < 20; ++i) EXPECT_TRUE(nodes.has("shown-" + std::to_string(i))) << i;
    EXPECT_FALSE(nodes.has("run-0,0"));
    nodes.cache.beginRun();
    nodes.use("last-0");
    nodes.cache.endRun();
    nodes.cache.beginRun();
    nodes.use("more-0");
    EXPECT_LE(nodes.cache.bytes(), 10000u); // what was shown before is so no longer
    EXPECT_TRUE(nodes.has("last-0"));
}

TEST(NodeCache, WhatManyRunsDidNotUseGoesThoughThereIsRoom)
{
    Counted nodes;
    nodes.cache.beginRun();
    nodes.use("a-0", 10);
    nodes.cache.endRun();
    for (std::size_t run = 0; run < NodeCache::longest + 2; ++run) {
        nodes.cache.beginRun();
        nodes.use("b-0", 10);
        nodes.cache.endRun();
    }
    EXPECT_FALSE(nodes.has("a-0"));
    EXPECT_TRUE(nodes.has("b-0"));
    nodes.cache.clear();
    EXPECT_FALSE(nodes.has("b-0"));
    EXPECT_EQ(nodes.cache.bytes(), 0u);
}

TEST(NodeCache, AComputationThatThrowsLeavesNothingAndIsTriedAgain)
{
    NodeCache cache;
    const auto fail = [&] { cache.get<int>("n-1", []() -> int { throw std::runtime_error("no"); }); };
    EXPECT_THROW(fail(), std::runtime_error);
    EXPECT_EQ(cache.peek<int>("n-1"), nullptr);
    EXPECT_EQ(*cache.get<int>("n-1", [] { return 7; }), 7);
}

TEST(NodeCache, TellsWhatEachKindCostsWithoutItsInputs)
{
    using namespace std::chrono;
    using namespace std::chrono_literals;
    NodeCache cache;
    const auto start = steady_clock::now();
    cache.get<int>("outer-1", [&] {
        std::this_thread::sleep_for(5ms);
        return *cache.get<int>("inner-1", [] {
            std::this_thread::sleep_for(40ms);
            return 1;
        });
    });
    const double all = duration<double>(steady_clock::now() - start).count();
    const auto costs = cache.costs();
    ASSERT_EQ(costs.size(), 2u);
    EXPECT_EQ(costs.at("inner").computations, 1u);
    EXPECT_GE(costs.at("inner").seconds, 0.040);
    EXPECT_GE(costs.at("outer").seconds, 0.005);
    EXPECT_LE(costs.at("outer").seconds + costs.at("inner").seconds, all); // nothing is counted twice
    EXPECT_EQ(cache.computations(), 2u);
}
