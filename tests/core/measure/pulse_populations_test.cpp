#include "pulse_populations.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using testing::ElementsAre;

namespace {

/// Transitions of a signal of three levels, whose directions do not take turns: each at a sample, from a symbol to
/// another.
struct Steps {
    std::shared_ptr<EdgeList> edges = std::make_shared<EdgeList>();
    void add(double position, int from, int to, bool behindGap = false)
    {
        edges->positions.push_back(position);
        edges->flags.push_back(std::uint8_t((to > from ? EdgeList::rising : 0) | (behindGap ? EdgeList::afterGap : 0)));
        edges->steps.push_back(std::uint8_t(from * 16 + to));
    }
    std::vector<double> periodsOf(EdgeChoice choice) const
    {
        Progress progress;
        const Population found = periods(edges, {0, 1, 1000}, choice, progress);
        std::vector<double> all;
        for (std::size_t i = 0; i < found.size(); ++i) {
            EXPECT_EQ(found.span[i], found.value[i]);
            all.push_back(found.value[i]);
        }
        return all;
    }
};

} // namespace

TEST(Periods, OfTransitionsThatDoNotTakeTurnsGoFromEachToTheNextOfItsDirection)
{
    Steps steps;
    steps.add(10, 0, 1);
    steps.add(21, 1, 2);
    steps.add(33, 2, 0);
    steps.add(46, 0, 2);
    steps.add(60, 2, 1);
    EXPECT_THAT(steps.periodsOf(EdgeChoice::rising), ElementsAre(11, 25));
    EXPECT_THAT(steps.periodsOf(EdgeChoice::falling), ElementsAre(27));
    EXPECT_THAT(steps.periodsOf(EdgeChoice::both), ElementsAre(11, 25, 27));
    steps.add(75, 1, 2, true); // nothing reaches across a gap
    steps.add(91, 2, 1);
    steps.add(108, 1, 2);
    EXPECT_THAT(steps.periodsOf(EdgeChoice::both), ElementsAre(11, 25, 27, 33));
}
