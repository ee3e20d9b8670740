// The levels that a stepped envelope has: found by one action, and what markers come to rest on.

#include "desktop_support.h"

#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

/// A carrier of 3 GHz keyed between 0.1 and 0.4 V a million times a second.
TEST(LevelsOf, AKeyedCarrierAreRowsThatMarkersRestOn)
{
    Desk desk;
    desk.openDemo();
    desk.bench().change("", [](Document &document) {
        for (const auto &[id, formula] :
             {std::pair("keyed", "sin(6.2831853 * 3 GHz * integral(1 + 0 * link / 1 V)) * "
                                 "choose(sin(6.2831853 * 1 MHz * integral(1 + 0 * link / 1 V)) > 0, 0.4 V, 0.1 V)"),
              {"carried", "am(keyed, 3 GHz, 400 MHz)"}}) {
            document.channels.push_back({.id = id, .formula = formula});
        }
        TileEntry tile;
        tile.id = "carrier";
        tile.kind = "traces";
        tile.of = {"carried"};
        document.sheets.push_back({"own", "Carrier", {tile}, {}, {}});
    });
    desk.bench().showSheet(int(desk.bench().document().sheets.size()) - 1);
    ASSERT_TRUE(desk.settled());
    desk.ask("measure the levels of carried");
    const auto &rows = desk.bench().document().measurements;
    ASSERT_TRUE(test::waitFor([&] { return rows.back().quantity == "amplitude_level"; }));
    ASSERT_TRUE(desk.settled());
    std::vector<double> levels;
    for (const Row &row : desk.bench().results()->rows) {
        if (row.quantity == "amplitude_level") levels.push_back(row.statistics.mean.value_or(0));
    }
    ASSERT_EQ(levels.size(), 2u);
    EXPECT_NEAR(levels[0], 0.1, 1e-3); // to what a filter of 400 MHz leaves of twice the carrier
    EXPECT_NEAR(levels[1], 0.4, 1e-3);
    auto *tile = desk.find<QWidget>("traceTile");
    ASSERT_TRUE(tile);
    tile->grab();
    ASSERT_TRUE(desk.drawn());
    int rested = 0, free = 0;
    for (int y = 40; y < tile->height() - 40; y += 3) {
        QTest::mouseClick(tile, Qt::LeftButton, {}, {40, y}); // beside its values
        const auto &markers = desk.bench().document().markers;
        if (markers.empty() || !markers[0].level) continue;
        const bool on = *markers[0].level == levels[0] || *markers[0].level == levels[1];
        on ? ++rested : ++free;
    }
    EXPECT_GE(rested, 4); // within 6 pixels of each
    EXPECT_GT(free, rested);
}
