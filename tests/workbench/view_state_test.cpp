#include "view_state.h"
#include "wait_for.h"

#include <gtest/gtest.h>

using namespace fulvex;

namespace {

using View = ViewState::View;
using Visit = ViewState::Visit;

struct Views : testing::Test {
    Views() { views.begin("one"); }
    /// As a user who chooses what to see.
    void see(const std::string &sheet, const std::string &tile, View view, bool step = true)
    {
        const Visit before{views.sheet(), tile, views.view(tile)};
        views.put({sheet, tile, view});
        views.changed(before, step);
    }
    std::optional<Visit> back()
    {
        const auto visit = views.back([this](const Visit &v) { return v.sheet != gone && v.tile != gone; });
        if (visit) views.put(*visit);
        return visit;
    }
    std::optional<Visit> forward()
    {
        const auto visit = views.forward([this](const Visit &v) { return v.sheet != gone && v.tile != gone; });
        if (visit) views.put(*visit);
        return visit;
    }
    ViewState views;
    std::string gone = "-";
};

} // namespace

TEST_F(Views, TilesShowTheirSheetsViewUntilTheyHaveOneOfTheirOwn)
{
    EXPECT_FALSE(views.isChosen());
    see("one", "", {0, 10});
    EXPECT_TRUE(views.isChosen());
    EXPECT_EQ(views.view("detail"), (View{0, 10}));
    EXPECT_FALSE(views.ownView("detail"));
    see("one", "detail", {2, 3});
    EXPECT_EQ(views.view("detail"), (View{2, 3}));
    EXPECT_EQ(views.view(), (View{0, 10}));
    views.begin("other");
    EXPECT_FALSE(views.isChosen());
    EXPECT_FALSE(views.ownView("detail"));
    EXPECT_FALSE(back());
}

TEST_F(Views, GoBackAndForwardOverSheetsAndTiles)
{
    see("one", "", {0, 10});
    see("one", "", {4, 5});
    see("one", "detail", {4.1, 4.2});
    see("two", "", {7, 8});
    EXPECT_EQ(back()->view, (View{4, 5})); // of the sheet's view, which the second sheet took over
    EXPECT_EQ(views.sheet(), "one");
    EXPECT_EQ(back()->tile, "detail");
    EXPECT_EQ(back()->view, (View{0, 10}));
    EXPECT_EQ(forward()->view, (View{4, 5}));
    see("one", "", {6, 7}); // a new way: what was ahead is no more
    EXPECT_FALSE(forward());
    EXPECT_EQ(back()->view, (View{4, 5}));
}

TEST_F(Views, WhatIsThereNoMoreIsPassedOver)
{
    see("one", "", {0, 10});
    see("one", "detail", {1, 2});
    see("one", "detail", {3, 4});
    gone = "detail";
    const auto visit = back();
    ASSERT_TRUE(visit);
    EXPECT_EQ(visit->tile, "");
    EXPECT_EQ(visit->view, (View{0, 1}));
}

TEST_F(Views, ADragIsOneStepAndAPauseBeginsTheNext)
{
    see("one", "", {0, 10});
    see("one", "", {1, 11});
    for (int i = 2; i < 50; ++i) see("one", "", {double(i), i + 10.0}, false);
    EXPECT_EQ(back()->view, (View{0, 10}));
    see("one", "", {0, 5}, false); // after going back it begins anew
    QTest::qWait(ViewState::pause + 50);
    see("one", "", {0, 4}, false);
    EXPECT_EQ(back()->view, (View{0, 5}));
    EXPECT_EQ(back()->view, (View{0, 10}));
}

TEST_F(Views, OnlySoManyStepsAreKept)
{
    for (std::size_t i = 0; i < 2 * ViewState::kept; ++i) see("one", "", {double(i), double(i) + 1});
    std::size_t steps = 0;
    while (back()) ++steps;
    EXPECT_EQ(steps, ViewState::kept);
    EXPECT_EQ(views.view(), (View{double(ViewState::kept - 1), double(ViewState::kept)}));
}
