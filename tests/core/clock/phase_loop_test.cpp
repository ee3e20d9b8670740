// A loop that follows several chunks together, against the same one by one.

#include "phase_loop.h"

#include <gtest/gtest.h>
#include <random>
#include <vector>

using namespace fulvex;

namespace {

/// Late edges at random: of some unit intervals that two edges lie in, of runs, and of a long time without any.
struct SomeEdges {
    std::vector<double> positions;
    std::vector<std::int32_t> numbers;
    explicit SomeEdges(std::size_t count)
    {
        std::mt19937_64 random(21);
        std::normal_distribution<double> gauss(0, 0.05);
        std::int32_t number = 0;
        for (std::size_t i = 0; i < count; ++i) {
            number += i % 1000 == 999 ? 200 : std::int32_t(random() % 9);
            numbers.push_back(number);
            positions.push_back(3.7 + 4.003 * (number + gauss(random)));
        }
    }
    LatenessOnLine late() const { return {positions.data(), numbers.data(), 3.7, 1 / 4.003}; }
};

} // namespace

TEST(PhaseLoop, FollowsChunksTogetherAsOneByOne)
{
    const SomeEdges edges(30'000);
    Progress progress;
    for (const bool second : {false, true}) {
        const PhaseLoop loop(0.02, second ? 1e-4 : 0, edges.late(), progress);
        for (const std::size_t count : {0, 1, 7, 4096, 4097, 5000}) {
            std::array<std::size_t, PhaseLoop::together> places;
            PhaseLoop::States begins;
            for (std::size_t c = 0; c < places.size(); ++c) {
                places[c] = 1 + c * 6007;
                begins[c] = {PhaseLoop::Pair{0.1 * double(c), 1e-3}, edges.late().at(places[c] - 1)};
            }
            std::vector<double> followed(30'000), should(30'000);
            const PhaseLoop::States ends = loop.followTogether(places, count, begins, followed.data()),
                                    silent = loop.followTogether(places, count, begins, nullptr);
            for (std::size_t c = 0; c < places.size(); ++c) {
                const PhaseLoop::State end =
                    loop.follow({std::int64_t(places[c]), std::int64_t(places[c] + count)}, begins[c], should.data());
                for (const PhaseLoop::State &own : {ends[c], silent[c]}) {
                    EXPECT_EQ(own.at[0], end.at[0]);
                    EXPECT_EQ(own.at[1], end.at[1]);
                    EXPECT_EQ(own.x, end.x);
                }
            }
            EXPECT_EQ(followed, should) << count;
        }
    }
}

// A step of several unit intervals is that many steps of one, of which the phase runs straight.
TEST(PhaseLoop, GoesAlongRunsAsStepByStep)
{
    Progress progress;
    for (const std::int32_t run : {1, 2, 63, 64, 65, 200}) {
        const double slope = 0.3 / run;
        std::vector<double> positions{0}, byOne{0};
        std::vector<std::int32_t> numbers{0}, ones{0};
        positions.push_back(run + 0.3);
        numbers.push_back(run);
        for (std::int32_t i = 1; i <= run; ++i) {
            byOne.push_back(i + slope * i);
            ones.push_back(i);
        }
        const PhaseLoop loop(0.03, 2e-4, {positions.data(), numbers.data(), 0, 1}, progress),
            plain(0.03, 2e-4, {byOne.data(), ones.data(), 0, 1}, progress);
        const PhaseLoop::State begin{PhaseLoop::Pair{0.05, -1e-3}, 0};
        const PhaseLoop::State whole = loop.follow({1, 2}, begin, nullptr),
                               steps = plain.follow({1, run + 1}, begin, nullptr);
        EXPECT_NEAR(whole.at[0], steps.at[0], 1e-12) << run;
        EXPECT_NEAR(whole.at[1], steps.at[1], 1e-13) << run;
    }
}
