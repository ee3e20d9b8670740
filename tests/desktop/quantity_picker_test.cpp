// Rows are added to the Ledger where they stand, by mouse and keyboard.

#include "desktop_support.h"
#include "measurement_edits.h"
#include "quantity_drawing.h"
#include "quantity_table.h"
#include "temporary_folder.h"

#include <gtest/gtest.h>

using namespace fulvex;

namespace {

class PickingQuantities : public testing::Test {
protected:
    PickingQuantities()
    {
        desk.openDemo();
        desk.bench().select({Selection::Kind::channel, "link"});
        desk.key(Qt::Key_M, Qt::ControlModifier);
        picker = desk.find<QWidget>("quantityPicker");
        search = desk.find<QLineEdit>("pickerSearch");
        list = desk.find<QListWidget>("pickerList");
        add = desk.find<QPushButton>("pickerAdd");
    }
    QListWidgetItem *shown(const QString &title)
    {
        for (int row = 0; row < list->count(); ++row)
            if (!list->item(row)->isHidden() && list->item(row)->text().contains(title)) return list->item(row);
        return nullptr;
    }
    void click(const QString &title)
    {
        QListWidgetItem *item = shown(title);
        ASSERT_TRUE(item) << title.toStdString();
        list->scrollToItem(item);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(item).center());
    }
    std::size_t rows() { return desk.bench().document().measurements.size(); }
    test::Desk desk;
    QWidget *picker;
    QLineEdit *search;
    QListWidget *list;
    QPushButton *add;
};

} // namespace

TEST_F(PickingQuantities, TypingAndReturnAddOne)
{
    ASSERT_TRUE(picker->isVisible());
    const std::size_t before = rows();
    QTest::keyClicks(search, "settling");
    EXPECT_EQ(add->text(), "Add the row");
    QTest::keyClick(search, Qt::Key_Return);
    EXPECT_FALSE(picker->isVisible());
    ASSERT_EQ(rows(), before + 1);
    EXPECT_EQ(desk.bench().document().measurements.back().quantity, "settling_time");
    EXPECT_EQ(desk.bench().document().measurements.back().source, "link");
    ASSERT_TRUE(desk.settled());
    const int row = desk.ledgerRow("settling time", "link");
    ASSERT_GE(row, 0);
    EXPECT_TRUE(desk.ledgerCell(row, "mean").endsWith("s")) << desk.ledgerCell(row, "mean").toStdString();
}

/// By clicks and by Space, of a channel, its clock, its eye and a pair; all of it is one step to undo.
TEST_F(PickingQuantities, SeveralAreAddedAtOnceAndUndoneAtOnce)
{
    const Document before = desk.bench().document();
    click("overshoot, rising");
    click("period jitter");
    click("delay");
    QTest::keyClicks(search, "eye height");
    QTest::keyClick(search, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Space);
    EXPECT_TRUE(shown("✓ eye height"));
    EXPECT_EQ(add->text(), "Add 4 rows");
    QTest::mouseClick(add, Qt::LeftButton);
    const auto &after = desk.bench().document().measurements;
    ASSERT_EQ(after.size(), before.measurements.size() + 4);
    const auto made = [&](const char *quantity) -> const MeasurementEntry & {
        return *std::find_if(after.begin() + std::ptrdiff_t(before.measurements.size()), after.end(),
                             [&](const MeasurementEntry &entry) { return entry.quantity == quantity; });
    };
    EXPECT_EQ(made("overshoot_rising").source, "link");
    EXPECT_EQ(made("period_jitter").source, "link");
    EXPECT_EQ(made("eye_height").eye, "eye"); // the last one made, not the smeared one
    EXPECT_FALSE(made("delay").to.empty());
    EXPECT_NE(made("delay").to, "link");
    ASSERT_TRUE(desk.settled());
    desk.bench().undoStack().undo();
    EXPECT_EQ(desk.bench().document().measurements, before.measurements);
}

TEST_F(PickingQuantities, WhatIsTakenTwiceIsLeft)
{
    const std::size_t before = rows();
    click("rise time");
    click("fall time");
    click("✓ rise time");
    EXPECT_EQ(add->text(), "Add the row");
    QTest::mouseClick(add, Qt::LeftButton);
    ASSERT_EQ(rows(), before + 1);
    EXPECT_EQ(desk.bench().document().measurements.back().quantity, "fall_time");
}

/// A leg has neither clock nor eye: it says so, and nothing happens on a click.
TEST_F(PickingQuantities, WhatTheChannelCannotGiveSaysWhy)
{
    auto *channels = desk.find<QComboBox>("pickerChannel");
    channels->setCurrentIndex(channels->findData("p"));
    emit channels->activated(channels->currentIndex());
    ASSERT_TRUE(shown("eye height · needs an eye"));
    ASSERT_TRUE(shown("symbol rate · needs a clock"));
    click("eye height");
    QTest::keyClicks(search, "eye height");
    EXPECT_EQ(add->text(), "Nothing found");
    EXPECT_FALSE(add->isEnabled());
    const std::size_t before = rows();
    QTest::keyClick(search, Qt::Key_Return);
    EXPECT_EQ(rows(), before);
}

/// A row with its levels and limit, again for another channel, in one action; of what the other has no clock for, not.
TEST(MeasuringAgain, ARowIsMeasuredInTheSameWayOfAnotherChannel)
{
    test::Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::measurement, "tr"});
    const std::size_t before = desk.bench().document().measurements.size();
    desk.ask("same of p");
    const auto &rows = desk.bench().document().measurements;
    ASSERT_EQ(rows.size(), before + 1);
    const MeasurementEntry &from = *findEntry(rows, "tr"), &made = rows.back();
    EXPECT_EQ(made.quantity, "rise_time");
    EXPECT_EQ(made.source, "p");
    EXPECT_EQ(made.levels, from.levels);
    EXPECT_EQ(made.limit, from.limit);
    EXPECT_EQ(desk.bench().selection().id, made.id);
    ASSERT_TRUE(desk.settled());
    EXPECT_GE(desk.ledgerRow("rise time, 20–80 %", "p"), 0);
    EXPECT_FALSE(canMeasureAgain(desk.bench(), made.id, "p")); // it is
    for (const MeasurementEntry &row : rows) {
        if (row.quantity != "eye_height") continue;
        EXPECT_FALSE(canMeasureAgain(desk.bench(), row.id, "p")); // p has no eye
    }
}

TEST(Populations, AreWrittenFromTheWindow)
{
    const test::TemporaryFolder folder;
    test::Desk desk;
    desk.openDemo();
    const std::string path = folder / "rise.csv";
    desk.bench().exportPopulation(QString::fromStdString(path), "tr");
    ASSERT_TRUE(test::waitFor([&] { return std::filesystem::exists(path) && !desk.bench().errands().busy(); }));
    const std::string table = test::readAll(path);
    EXPECT_EQ(table.substr(0, table.find('\n')), "time (s),\"rise time, 20–80 % (s)\"");
    const Row &row = *findEntry(desk.bench().results()->rows, "tr");
    EXPECT_EQ(std::count(table.begin(), table.end(), '\n'), 1 + row.statistics.count);
    EXPECT_EQ(desk.message(), "");
    desk.bench().exportPopulation(QString::fromStdString(folder / "rise.txt"), "tr");
    ASSERT_TRUE(test::waitFor([&] { return desk.message().contains("neither a .npy nor a .csv"); }));
}

TEST(QuantityDrawings, EachQuantityHasOne)
{
    for (const Quantity &quantity : quantities()) {
        const QImage drawing = quantityDrawing(quantity.name, {60, 30}, Look::light());
        EXPECT_FALSE(drawing.isNull()) << quantity.name;
    }
}
