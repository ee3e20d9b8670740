// Ask, as it is typed into.

#include "ask_box.h"
#include "desktop_support.h"

#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

struct Asking : testing::Test {
    Asking()
    {
        desk.openDemo();
        box = desk.find<AskBox>("ask");
    }
    ~Asking() override { desk.bench().undoStack().clear(); }
    /// What is offered for some words, best first.
    std::vector<std::string> offers(const QString &words)
    {
        box->clear();
        box->setFocus();
        QTest::keyClicks(box, words);
        std::vector<std::string> found;
        for (int row = 0; row < box->list()->count(); ++row)
            found.push_back(box->list()->item(row)->text().toStdString());
        return found;
    }
    void show(const char *sheet)
    {
        const auto &sheets = desk.bench().document().sheets;
        for (int i = 0; i < int(sheets.size()); ++i) {
            if (sheets[std::size_t(i)].id == sheet) desk.bench().showSheet(i);
        }
    }
    Desk desk;
    AskBox *box;
};

} // namespace

/// A newcomer asks for an eye, and has no clock yet.
TEST(AskingAnew, AnEyeOfAChannelBringsItsClockAlong)
{
    Desk desk;
    desk.openDemo();
    desk.bench().change("without clocks", [](Document &document) {
        document.eyes.clear(), document.masks.clear(), document.clocks.clear(), document.measurements.clear();
        document.budgets.clear(), document.phaseNoise.clear(), document.spectra.clear(), document.sheets.resize(1);
        document.sheets[0].tiles.clear();
    });
    const int steps = desk.bench().undoStack().count();
    desk.ask("eye link");
    EXPECT_EQ(desk.bench().undoStack().count(), steps + 1) << "one step";
    ASSERT_EQ(desk.bench().document().clocks.size(), 1u);
    EXPECT_EQ(desk.bench().document().clocks[0].method, "pll");
    ASSERT_EQ(desk.bench().document().eyes.size(), 1u);
    EXPECT_EQ(desk.bench().document().eyes[0].clock, desk.bench().document().clocks[0].id);
    EXPECT_EQ(desk.bench().document().eyes[0].source, "link");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.bench().results()->eyes[0].fold);
    EXPECT_GT(desk.bench().results()->eyes[0].fold->samples, 0);
    // With a clock there, that is the one: no second is offered.
    desk.ask("add an eye of link by loop");
    EXPECT_EQ(desk.bench().document().clocks.size(), 1u);
    EXPECT_EQ(desk.bench().document().eyes.size(), 2u);
    desk.bench().undoStack().clear();
}

TEST_F(Asking, FindsAnActionAndWhatItActsOnInAnyOrder)
{
    EXPECT_EQ(offers("loop link").front(), "Add a loop clock on link");
    EXPECT_EQ(offers("link loop").front(), "Add a loop clock on link");
    EXPECT_EQ(offers("rise link").front(), "Measure rise time of link");
    EXPECT_EQ(offers("link rise").front(), "Measure rise time of link");
    EXPECT_THAT(offers("eye link").front(), testing::StartsWith("Add an eye of link by "));
    EXPECT_THAT(offers("mask brack eye").front(), testing::StartsWith("Test eye against the mask "));
    EXPECT_EQ(offers("align n p edges").front(), "Align n to p by edges");
    EXPECT_THAT(offers("no such words").front(), testing::HasSubstr("Nothing does that"));
}

TEST_F(Asking, WhatIsSelectedOrInViewComesFirst)
{
    EXPECT_EQ(offers("jitter").front(), "Measure period jitter of link"); // not of its legs
    desk.bench().select({Selection::Kind::channel, "p"});
    EXPECT_EQ(offers("rise time").front(), "Measure rise time of p");
    desk.bench().select({Selection::Kind::channel, "n"});
    EXPECT_EQ(offers("rise time").front(), "Measure rise time of n");
    desk.bench().select({Selection::Kind::clock, "loop"});
    EXPECT_EQ(offers("interval error").front(), "Measure time interval error of loop");
    desk.bench().select({Selection::Kind::clock, "ideal"});
    EXPECT_EQ(offers("interval error").front(), "Measure time interval error of ideal");
}

TEST_F(Asking, DoesSeveralThingsAtOnce)
{
    const std::size_t before = desk.bench().document().measurements.size();
    const auto found = offers("slew, positive width, duty link");
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0],
              "Measure slew rate, rising of link  ·  Measure positive width of link  ·  Measure duty cycle of link");
    QTest::keyClick(box, Qt::Key_Return);
    const auto &rows = desk.bench().document().measurements;
    ASSERT_EQ(rows.size(), before + 3);
    EXPECT_EQ(rows[before].quantity, "slew_rate_rising");
    EXPECT_EQ(rows[before + 1].quantity, "positive_width");
    EXPECT_EQ(rows[before + 2].quantity, "duty_cycle");
    for (std::size_t i = before; i < rows.size(); ++i) EXPECT_EQ(rows[i].source, "link");
    EXPECT_THAT(offers("slew, nothing like it, link").front(), testing::HasSubstr("Nothing does that"));
}

TEST_F(Asking, CutsNothingOffAndChoosesItsTextWhenAskedForAgain)
{
    offers("mask");
    const QListWidget *list = box->list();
    EXPECT_GE(list->width(), list->sizeHintForColumn(0));
    int high = 0;
    for (int row = 0; row < list->count(); ++row) high += list->sizeHintForRow(row);
    EXPECT_GE(list->height(), high);
    offers("no such words");
    EXPECT_GE(list->width(), list->sizeHintForColumn(0));
    EXPECT_FALSE(box->hasSelectedText());
    desk.key(Qt::Key_Space, Qt::ControlModifier);
    EXPECT_EQ(box->selectedText(), "no such words");
    QTest::keyClicks(box, "rise p");
    EXPECT_EQ(box->text(), "rise p");
}

TEST_F(Asking, OffersWhatIsThereByNowAndDoesNothingToWhatIsGone)
{
    QTest::keyClicks(box, "rise time fres");
    EXPECT_THAT(box->list()->item(0)->text().toStdString(), testing::HasSubstr("Nothing does that"));
    desk.bench().change("another channel", [](Document &document) {
        document.channels.push_back({.id = "fresh", .formula = "link * 2"});
    });
    QTest::keyClicks(box, "h");
    EXPECT_EQ(box->list()->item(0)->text().toStdString(), "Measure rise time of fresh");
    const std::size_t rows = desk.bench().document().measurements.size();
    desk.bench().undoStack().undo();
    QTest::keyClick(box, Qt::Key_Return); // before another letter
    EXPECT_EQ(desk.bench().document().measurements.size(), rows);
}
