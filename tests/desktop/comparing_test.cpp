// Channels beside each other: overlaid, subtracted, aligned first; a formula laid on others. By words in Ask.

#include "comparing.h"
#include "desktop_support.h"

#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

class Comparing : public testing::Test {
protected:
    Comparing() { desk.openDemo(); }
    const Document &document() { return desk.bench().document(); }
    const TileEntry &newestTile() { return document().sheets[std::size_t(desk.bench().sheet())].tiles.back(); }
    /// Root of the mean square about the mean, where it is a number.
    double spread(const std::string &channel)
    {
        const SourcePtr source = findEntry(desk.bench().results()->channels, channel)->source;
        std::vector<double> values(100000);
        source->read(200000, values);
        double sum = 0, squares = 0, count = 0;
        for (const double v : values)
            if (v == v) sum += v, squares += v * v, ++count;
        return std::sqrt(squares / count - sum / count * sum / count);
    }
    Desk desk;
};

} // namespace

TEST_F(Comparing, ChannelsStandInOneTileEachInItsInk)
{
    desk.bench().select({Selection::Kind::channel, "link"});
    desk.ask("show link and link2 in one tile");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(newestTile().kind, "traces");
    EXPECT_THAT(newestTile().of, ElementsAre("link", "link2"));
    desk.bench().undoStack().undo();
    desk.bench().select({Selection::Kind::channel, "p"});
    desk.ask("subtract n from p");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(document().channels.back().formula, "p - n");
    EXPECT_THAT(newestTile().of, ElementsAre("p", "n", "p_less_n"));
    EXPECT_EQ(desk.bench().selection().id, "p_less_n");
}

/// A copy that comes 3.3 ns later, by no whole number of samples: aligned, nothing is left but what interpolation
/// leaves.
TEST_F(Comparing, AlignedFirstTheDifferenceIsWhatReallyDiffers)
{
    desk.addFormula("delay(link, 3.31 ns)");
    ASSERT_TRUE(desk.settled());
    const std::string later = document().channels.back().id;
    for (const char *how : {"by correlation", "by edges"}) {
        desk.bench().select({Selection::Kind::channel, "link"});
        desk.ask("align " + QString::fromStdString(later) + " to link " + how + " then subtract it");
        ASSERT_TRUE(test::waitFor([&] { return document().channels.back().formula.starts_with("link - delay("); }));
        ASSERT_TRUE(desk.settled());
        const ChannelResult &made = desk.bench().results()->channels.back();
        ASSERT_EQ(made.error, "") << document().channels.back().formula;
        EXPECT_LT(spread(made.id), 0.01 * spread("link")) << document().channels.back().formula;
        EXPECT_THAT(desk.message().toStdString(), HasSubstr("is taken later by −3.31"));
        desk.bench().undoStack().undo();
    }
}

/// What changes meanwhile is not subtracted by a delay that belongs to something else.
TEST_F(Comparing, WhatWasChangedMeanwhileIsNotSubtracted)
{
    desk.addFormula("delay(link, 3.31 ns)");
    ASSERT_TRUE(desk.settled());
    const std::string later = document().channels.back().id;
    const std::size_t channels = document().channels.size();
    subtractAligned(desk.bench(), "link", later, false);
    desk.bench().change("", [](Document &changed) { findEntry(changed.channels, "p")->scale *= 2; });
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().errands().busy(); }));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(document().channels.size(), channels);
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("changed meanwhile"));
}

TEST_F(Comparing, WhatOneIsMadeOfIsMadeOfOthers)
{
    desk.addFormula("lowpass(p, 300 MHz, 4) * 2");
    ASSERT_TRUE(desk.settled());
    const std::string pattern = document().channels.back().id;
    desk.bench().select({Selection::Kind::channel, pattern});
    desk.ask("make of n what " + QString::fromStdString(pattern) + " is made of");
    EXPECT_EQ(document().channels.back().formula, "lowpass(n, 300 MHz, 4) * 2");
    desk.bench().select({Selection::Kind::channel, pattern});
    desk.ask("make of every channel of after what " + QString::fromStdString(pattern));
    const auto &channels = document().channels;
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(channels[channels.size() - 2].formula, "lowpass(p2, 300 MHz, 4) * 2");
    EXPECT_EQ(channels[channels.size() - 1].formula, "lowpass(n2, 300 MHz, 4) * 2");
    desk.bench().undoStack().undo(); // one step
    EXPECT_EQ(document().channels.back().formula, "lowpass(n, 300 MHz, 4) * 2");
    EXPECT_EQ(formulaIsOf(document(), "link"), ""); // of two
    EXPECT_EQ(formulaIsOf(document(), "p"), "");    // of a file
}
