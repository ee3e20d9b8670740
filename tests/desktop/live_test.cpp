// An instrument as a source: one capture, again and again, a sweep until the mask fails and the run stops.

#include "desktop_support.h"
#include "simulator.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

struct LiveDesk : test::Simulator, Desk {
    explicit LiveDesk(demo::SimulatorOptions options = {.samples = 40000, .mostPerSecond = 40})
        : test::Simulator(options)
    {
        bench().newProject();
        // Saved, so that captures lie beside it.
        bench().save(QString::fromStdString(folder / "live.fulvex"));
        EXPECT_TRUE(test::waitFor([&] { return !bench().errands().busy(); }));
    }
    void connectTo(const std::string &address)
    {
        answer(QString::fromStdString(address));
        ask("take captures from an instrument");
    }
    /// One capture came, and its channels.
    bool began()
    {
        return test::waitFor([&] { return bench().document().channels.size() == 2 && settled(); });
    }
    /// Difference, loop, eye and mask of what came.
    void keepLast(int last)
    {
        bench().change("keep", [last](Document &document) {
            document.captures[0].live.keep = "last";
            document.captures[0].live.last = last;
        });
    }
    void analyse()
    {
        bench().change("analyse", [](Document &document) {
            ChannelEntry link;
            link.id = "link";
            link.formula = document.channels[0].id + " - " + document.channels[1].id;
            document.channels.push_back(link);
            document.clocks.push_back({.id = "loop", .source = "link", .method = "pll", .bandwidth = 8e6});
            document.eyes.push_back({.id = "eye1", .source = "link", .clock = "loop"});
            document.masks.push_back({.id = "mask1", .eye = "eye1", .mask = "ieee-802.3-1000base-x"});
        });
        EXPECT_TRUE(settled());
    }
    std::size_t counted() { return bench().run() ? bench().run()->counted : 0; }
    std::size_t files() const
    {
        std::size_t count = 0;
        for (const auto &one : std::filesystem::directory_iterator(folder.path() / "live-live"))
            count += one.path().extension() == ".sigmf-data";
        return count;
    }
    test::TemporaryFolder folder;
};

} // namespace

TEST(Live, OneCaptureMakesChannelsAndFurtherOnesCount)
{
    LiveDesk desk;
    desk.connectTo(desk.address());
    ASSERT_TRUE(desk.began()) << desk.message().toStdString();
    EXPECT_EQ(desk.bench().document().channels[0].id, "ch1");
    EXPECT_EQ(desk.bench().live().state().identity, "Brackwater,Simulated instrument,1,1");
    EXPECT_EQ(desk.bench().results()->captures[0].samples, 40000);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 1; }));
    desk.bench().select({Selection::Kind::capture, desk.bench().document().captures[0].id});
    QTest::mouseClick(desk.find<QPushButton>("liveOne"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 2; }));
    QTest::mouseClick(desk.find<QPushButton>("liveRepeat"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() >= 8; }));
    // It answers to a stop within a tenth of a second, and what was taken is counted.
    QTest::mouseClick(desk.find<QPushButton>("liveStop"), Qt::LeftButton);
    EXPECT_FALSE(desk.bench().live().running());
    QTest::qWait(100);
    const std::size_t files = desk.files();
    QTest::qWait(300);
    EXPECT_EQ(desk.files(), files);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == files; }));
}

TEST(Live, WhatWasCountedStaysWhereATileShowsTheLastOnes)
{
    LiveDesk desk;
    desk.connectTo(desk.address());
    ASSERT_TRUE(desk.began());
    desk.keepLast(1);
    desk.bench().acquire(desk.bench().document().captures[0].id, 6);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 7 && !desk.bench().live().running(); }));
    EXPECT_LT(desk.files(), 4u); // most are gone
    desk.bench().change("fade", [](Document &document) {
        for (SheetEntry &sheet : document.sheets)
            for (TileEntry &tile : sheet.tiles)
                if (tile.kind == "traces") tile.captures = "recent";
    });
    ASSERT_TRUE(desk.settled());
    desk.bench().acquire(desk.bench().document().captures[0].id, 2);
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 9; })) << desk.counted();
    EXPECT_TRUE(test::waitFor([&] { return desk.bench().run()->traces.size() == 2; }));
}

TEST(Live, ASweepClosesTheEyeUntilTheMaskFailsAndTheRunStops)
{
    LiveDesk desk({.samples = 40000, .mostPerSecond = 40, .sweep = 60});
    desk.connectTo(desk.address());
    ASSERT_TRUE(desk.began());
    desk.analyse();
    desk.bench().change("stop", [](Document &document) { document.captures[0].run.stopAt = 1; });
    desk.bench().select({Selection::Kind::capture, desk.bench().document().captures[0].id});
    desk.key(Qt::Key_F6, Qt::NoModifier);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().run() && desk.bench().run()->ended; }))
        << desk.counted() << desk.message().toStdString();
    EXPECT_FALSE(desk.bench().live().running());
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("The run ended"));
    EXPECT_EQ(desk.bench().run()->failed, 1u);
    EXPECT_GT(desk.counted(), 5u); // it passed first
    EXPECT_EQ(desk.bench().run()->all->masks[0].verdict, Verdict::fail);
    EXPECT_EQ(desk.bench().run()->lines.front().verdict, Verdict::fail);
}

TEST(Live, OnlyTheLastAreKeptAndAllCount)
{
    LiveDesk desk;
    desk.connectTo(desk.address());
    ASSERT_TRUE(desk.began());
    desk.keepLast(3);
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.bench().acquire(desk.bench().document().captures[0].id, 12));
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 13 && !desk.bench().live().running(); }, 20000));
    EXPECT_LE(desk.files(), 5u); // those, and what was being looked at
    // One that went says so.
    const auto &members = desk.bench().run()->members;
    const auto gone = std::ranges::find_if(members, [&](const RunMember &member) {
        return !std::filesystem::exists(desk.bench().base() / member.files.front());
    });
    ASSERT_NE(gone, members.end());
    desk.bench().showMember(gone->name);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("is not there any more"));
}

TEST(Live, WhatGoesWrongIsToldAndTheWindowGoesOn)
{
    LiveDesk desk({.samples = 40000, .mostPerSecond = 40, .faultEvery = 4});
    desk.folder.write("quick.dialect.json", [] {
        std::string text = test::readAll(std::string(FULVEX_SHIPPED_DIALECTS) + "/brackwater.dialect.json");
        text.replace(text.find("5000"), 4, "200");
        return text;
    }());
    const std::string id =
        desk.bench().addLive(QString::fromStdString(desk.address()), desk.folder / "quick.dialect.json");
    ASSERT_FALSE(id.empty());
    ASSERT_TRUE(desk.bench().acquire(id, 24));
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() == 24 && !desk.bench().live().running(); }, 40000))
        << desk.counted() << desk.bench().live().state().message;
    EXPECT_EQ(desk.bench().run()->unread, 0u);
}

TEST(Live, NobodyThereAndWrongDialectsAreMessages)
{
    LiveDesk desk;
    const std::string id = desk.bench().addLive("127.0.0.1:1", "brackwater");
    ASSERT_TRUE(desk.bench().acquire(id, 1));
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().live().state().message.empty(); }));
    EXPECT_THAT(desk.bench().live().state().message, testing::HasSubstr("cannot be connected to"));
    desk.bench().live().stop();
    desk.bench().change("dialect", [](Document &document) { document.captures[0].live.dialect = "none"; });
    EXPECT_FALSE(desk.bench().acquire(id, 1));
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("use brackwater"));
}

TEST(Live, AnotherProjectEndsIt)
{
    LiveDesk desk;
    desk.connectTo(desk.address());
    ASSERT_TRUE(desk.began());
    ASSERT_TRUE(desk.bench().acquire(desk.bench().document().captures[0].id, 0));
    ASSERT_TRUE(test::waitFor([&] { return desk.counted() > 2; }));
    desk.bench().newProject();
    EXPECT_FALSE(desk.bench().live().running());
    QTest::qWait(300);
    EXPECT_TRUE(desk.bench().document().captures.empty());
    EXPECT_EQ(desk.bench().run(), nullptr);
}
