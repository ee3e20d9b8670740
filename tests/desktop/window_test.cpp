// The desktop application as its user meets it: real widgets, by what is done and seen.

#include "desktop_support.h"
#include "document_json.h"
#include "temporary_folder.h"

#include <QCheckBox>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace fulvex;
using fulvex::test::Desk;
using fulvex::test::dragAcross;

namespace {

QPoint middleOf(QWidget *widget)
{
    return widget->rect().center();
}

void wheel(QWidget *widget, QPoint at, int steps)
{
    QWheelEvent event(at, widget->mapToGlobal(at), {}, {0, 120 * steps}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(widget, &event);
}

/// The share of a picture's pixels that differ from its most common colour: whether something is drawn.
double inkShare(const QImage &image)
{
    QMap<QRgb, int> counts;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) ++counts[image.pixel(x, y)];
    return 1 - double(*std::max_element(counts.begin(), counts.end())) / (image.width() * image.height());
}

std::string table(const std::string &header, int rows)
{
    std::string text = header + "\n";
    for (int i = 0; i < rows; ++i) {
        const double v = i / 20 % 2 ? 0.4 : -0.4;
        text += std::to_string(i) + "e-9," + std::to_string(v) + "," + std::to_string(-v) + "\n";
    }
    return text;
}

} // namespace

TEST(Window, AnEmptyOneSaysTheNextStep)
{
    Desk desk;
    EXPECT_GT(inkShare(desk.window().grab().toImage()), 0.02);
    bool told = false;
    for (QLabel *label : desk.window().findChildren<QLabel *>())
        told |= label->isVisible() && label->text().contains("Drop captures or a project anywhere here");
    EXPECT_TRUE(told);
}

TEST(Window, TheDemoTellsItsStory)
{
    Desk desk;
    desk.openDemo();
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    ASSERT_EQ(tabs->count(), 10);
    const int mask = desk.ledgerRow("mask Brackwater camera link, revision B", "eye");
    ASSERT_GE(mask, 0);
    EXPECT_EQ(desk.ledgerCell(mask, "mean"), "1 failed UI");
    EXPECT_EQ(desk.ledgerCell(mask, "verdict"), "✕ fail");
    tabs->setCurrentIndex(2);
    ASSERT_TRUE(desk.drawn());
    EXPECT_EQ(desk.window().findChildren<QWidget *>("traceTile").size(), 1);
    EXPECT_EQ(desk.window().findChildren<QWidget *>("eyeTile").size(), 1);
    EXPECT_GT(inkShare(desk.find<QWidget>("eyeTile")->grab().toImage()), 0.1);
}

TEST(Window, AMaskFailureLeadsToItsBitAndTakesANote)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    desk.bench().fitView();
    QTest::mouseClick(desk.find<QWidget>("eyeTile"), Qt::LeftButton, {}, QPoint(30, 12));
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1; }));
    EXPECT_EQ(evidence->model()->index(0, 1).data().toString(), "68545");
    QTest::mouseClick(evidence->viewport(), Qt::LeftButton, {}, QPoint(40, 8));
    EXPECT_LT(desk.bench().viewFrom(), 107.1033e-6);
    EXPECT_GT(desk.bench().viewTo(), 107.1033e-6);
    EXPECT_LT(desk.bench().viewTo() - desk.bench().viewFrom(), 1e-6);
    const std::size_t notes = desk.bench().document().notes.size();
    desk.answer("the dent");
    QTest::keyClick(evidence, Qt::Key_N);
    ASSERT_EQ(desk.bench().document().notes.size(), notes + 1);
    EXPECT_EQ(desk.bench().document().notes.back().text, "the dent");
    EXPECT_NEAR(desk.bench().document().notes.back().time, 107.10327e-6, 0.3e-9);
}

TEST(Window, DraggingTheBandwidthMovesEyeAndLedgerAndIsOneUndoStep)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::clock, "loop"});
    auto *slider = desk.find<QSlider>("bandwidthSlider");
    ASSERT_NE(slider, nullptr);
    const int tie = desk.ledgerRow("time interval error", "link · loop");
    const QString before = desk.ledgerCell(tie, "spread");
    const QImage eyeBefore = [&] {
        desk.showSheet("Link eye");
        EXPECT_TRUE(desk.drawn());
        return desk.find<QWidget>("eyeTile")->grab().toImage();
    }();
    slider->setFocus();
    for (int i = 0; i < 8; ++i) QTest::keyClick(slider, Qt::Key_PageDown); // down to some 30 kHz
    ASSERT_TRUE(desk.settled());
    EXPECT_LT(desk.bench().document().clocks[1].bandwidth, 6e4);
    EXPECT_NE(desk.ledgerCell(tie, "spread"), before);
    EXPECT_NE(desk.find<QWidget>("eyeTile")->grab().toImage(), eyeBefore);
    EXPECT_GT(desk.bench().results()->masks[1].result->failedUnitIntervals, 100); // the wander is no longer followed
    EXPECT_EQ(desk.bench().undoStack().count(), 1);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().clocks[1].bandwidth, 1.5e6);
    EXPECT_EQ(desk.ledgerCell(tie, "spread"), before);
}

TEST(Window, ALedgerRowIsShownBetweenItsPoints)
{
    Desk desk;
    desk.openDemo();
    auto *trace = desk.find<QWidget>("traceTile");
    const QImage before = trace->grab().toImage();
    auto *ledger = desk.find<QTableView>("ledgerTable");
    QTest::mouseClick(ledger->viewport(), Qt::LeftButton, {}, QPoint(40, 8));
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::measurement, "tr"}));
    EXPECT_NE(trace->grab().toImage(), before);
    auto *evidence = desk.find<QTableView>("evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1000; }));
    const auto off = [&](int row) {
        return std::abs(evidence->model()->index(row, 3).data().toString().replace("−", "-").toDouble());
    };
    EXPECT_GE(off(0), off(1));
    EXPECT_GE(off(1), off(500));
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_Down);
    const double first = desk.bench().viewFrom();
    QTest::keyClick(evidence, Qt::Key_Down);
    EXPECT_NE(desk.bench().viewFrom(), first);
}

TEST(Window, TracesZoomPanAndMark)
{
    Desk desk;
    desk.openDemo();
    auto *trace = desk.find<QWidget>("traceTile");
    const double width = desk.bench().viewTo() - desk.bench().viewFrom();
    dragAcross(trace, {300, 150}, {500, 150});
    const double zoomed = desk.bench().viewTo() - desk.bench().viewFrom();
    EXPECT_NEAR(zoomed / width, 200.0 / (trace->width() - 94), 0.02);
    wheel(trace, middleOf(trace), 1);
    EXPECT_NEAR((desk.bench().viewTo() - desk.bench().viewFrom()) / zoomed, 0.8, 1e-6);
    const double from = desk.bench().viewFrom();
    trace->setFocus();
    QTest::keyClick(trace, Qt::Key_Right);
    EXPECT_GT(desk.bench().viewFrom(), from);
    QTest::mouseClick(trace, Qt::LeftButton, {}, QPoint(300, 200));
    QTest::mouseClick(trace, Qt::LeftButton, Qt::ShiftModifier, QPoint(400, 200));
    const auto &markers = desk.bench().document().markers;
    ASSERT_EQ(markers.size(), 2u);
    const double dt = *markers[1].time - *markers[0].time;
    EXPECT_NEAR(dt, 100.0 / (trace->width() - 94) * (desk.bench().viewTo() - desk.bench().viewFrom()), 0.02 * dt);
    QTest::keyClick(trace, Qt::Key_Escape);
    EXPECT_TRUE(desk.bench().document().markers.empty());
    QTest::keyClick(trace, Qt::Key_F);
    EXPECT_NEAR(desk.bench().viewTo() - desk.bench().viewFrom(), 125e-6, 1e-7);
}

TEST(Window, TheStripMovesTheView)
{
    Desk desk;
    desk.openDemo();
    auto *strip = desk.find<QWidget>("strip");
    QTest::mouseClick(strip, Qt::LeftButton, {}, middleOf(strip));
    EXPECT_NEAR((desk.bench().viewFrom() + desk.bench().viewTo()) / 2, 62.5e-6, 1e-6);
    dragAcross(strip, {middleOf(strip).x() - 200, 30}, {middleOf(strip).x() + 200, 30});
    EXPECT_NEAR(desk.bench().viewTo() - desk.bench().viewFrom(), 400.0 / (strip->width() - 28) * 125e-6, 1e-6);
    const double from = desk.bench().viewFrom();
    dragAcross(strip, middleOf(strip), middleOf(strip) + QPoint(100, 0));
    EXPECT_GT(desk.bench().viewFrom(), from + 5e-6);
    QTest::mouseDClick(strip, Qt::LeftButton, {}, middleOf(strip));
    EXPECT_NEAR(desk.bench().viewTo() - desk.bench().viewFrom(), 125e-6, 1e-7);
}

/// The whole job from nothing, without a project: the legs dropped, the difference, a clock, an eye, a mask, a
/// measurement.
TEST(Window, TheJobFromADroppedFileToAVerdict)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("legs.csv", table("Time (s),P (V),N (V)", 40000)))});
    ASSERT_TRUE(desk.importShown());
    auto *difference = desk.find<QCheckBox>("difference");
    EXPECT_TRUE(difference->isVisible() && difference->isChecked()); // they mirror each other
    QTest::mouseClick(difference, Qt::LeftButton, {}, QPoint(8, difference->height() / 2));
    desk.takeImport();
    ASSERT_EQ(desk.bench().document().channels.size(), 2u);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().channels[0].label, "P");
    desk.addFormula("p - n");
    ASSERT_EQ(desk.bench().document().channels.size(), 3u);
    EXPECT_EQ(desk.bench().selection().id, desk.bench().document().channels[2].id);
    desk.ask("loop clock");
    ASSERT_EQ(desk.bench().document().clocks.size(), 1u);
    EXPECT_EQ(desk.bench().document().clocks[0].source, desk.bench().document().channels[2].id);
    desk.ask("add eye");
    desk.ask("mask ieee-802.3-1000");
    desk.ask("measure rise link");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.message(), "");
    EXPECT_EQ(desk.bench().results()->clocks[0].reason, "");
    EXPECT_NEAR(desk.bench().results()->clocks[0].rate, 1 / 20e-9, 100);
    ASSERT_EQ(desk.bench().results()->masks.size(), 1u);
    EXPECT_EQ(desk.bench().results()->masks[0].verdict, Verdict::pass);
    EXPECT_GE(desk.ledgerRow("rise time, 10–90 %", "link"), 0);
}

TEST(Window, AFileWithoutIntervalWaitsForIt)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.drop({QString::fromStdString(folder.write("a.csv", "v\n1\n2\n1\n2\n"))});
    ASSERT_TRUE(desk.importShown());
    EXPECT_FALSE(desk.find<QPushButton>("importAdd")->isEnabled());
    EXPECT_THAT(desk.find<QLabel>("importHint")->text().toStdString(), testing::HasSubstr("sample interval: give one"));
    const auto at = [&] { return desk.window().focusWidget(); }; // where one types without looking for it
    QTest::keyClicks(at(), "8 GS/s");
    QTest::keyClick(at(), Qt::Key_Return);
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("importAdd")->isEnabled(); }));
    QTest::keyClick(at(), Qt::Key_Return);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().document().captures.size() == 1; }));
    EXPECT_DOUBLE_EQ(*desk.bench().document().captures[0].import.sampleInterval, 125e-12);
}

TEST(Window, BadInputIsSaidAndLosesNothing)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    const Document before = desk.bench().document();
    desk.drop({QString::fromStdString(folder.write("bad.npy", std::string("\x93NUMPY\x01\x00\x76\x00{", 11)))});
    ASSERT_TRUE(test::waitFor([&] { return desk.message().contains("truncated"); }));
    EXPECT_EQ(desk.bench().document(), before);
    desk.window().openFiles({QString::fromStdString(folder.write("bad.fulvex", "{\"fulvex\": 1, \"chanels\": []}"))});
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("did you mean \"channels\"?"));
    EXPECT_EQ(desk.bench().document(), before);
    desk.addFormula("p - nowhere");
    EXPECT_THAT(desk.find<QLabel>("formulaState")->text().toStdString(),
                testing::HasSubstr("no channel, parameter or region has the id \"nowhere\""));
    EXPECT_EQ(desk.bench().document(), before);
    desk.bench().select({Selection::Kind::clock, "loop"});
    auto *bandwidth = desk.find<QLineEdit>("bandwidth");
    bandwidth->setText("many");
    QTest::keyClick(bandwidth, Qt::Key_Return);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("\"many\" is not a number in Hz"));
    bandwidth->setText("-3");
    QTest::keyClick(bandwidth, Qt::Key_Return);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("must be greater than 0"));
    EXPECT_EQ(desk.bench().document(), before);
}

TEST(Window, RemovingAChannelTakesWhatHangsOnItAndUndoBringsItBack)
{
    Desk desk;
    desk.openDemo();
    const Document before = desk.bench().document();
    auto *chain = desk.find<QWidget>("chainRails");
    desk.bench().select({Selection::Kind::channel, "link"});
    chain->setFocus();
    QTest::keyClick(chain, Qt::Key_Delete);
    EXPECT_EQ(desk.bench().document().clocks.size(), 3u); // of the fixed link, and of the level bus
    EXPECT_EQ(desk.bench().document().eyes.size(), 3u);
    EXPECT_EQ(desk.message(), "");
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(desk.bench().document(), before);
}

TEST(Window, SavesAndOpensAgain)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.bench().select({});
    auto *title = desk.find<QLineEdit>("title");
    title->setText("Renamed");
    QTest::keyClick(title, Qt::Key_Return);
    EXPECT_TRUE(desk.window().isWindowModified());
    ASSERT_TRUE(desk.settled());
    desk.answer(QString::fromStdString(folder / "copy.fulvex"));
    desk.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    desk.bench().errands().finish();
    ASSERT_TRUE(std::filesystem::exists(folder / "copy.fulvex"));
    EXPECT_FALSE(desk.window().isWindowModified());
    const Document saved = loadDocument(folder / "copy.fulvex");
    EXPECT_EQ(saved.title, "Renamed");
    EXPECT_EQ(saved.captures[0].sha256.size(), 64u);
    Desk other;
    other.window().openFiles({QString::fromStdString(folder / "copy.fulvex")});
    ASSERT_TRUE(other.settled());
    EXPECT_EQ(other.bench().results()->firstError(), "");
    other.bench().undoStack().clear();
}

TEST(Window, DarkAndLargeAndDoubleDrawEverything)
{
    Desk desk({2560, 1440});
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.drawn());
    const QImage light = desk.window().grab().toImage();
    desk.key(Qt::Key_D, Qt::ControlModifier);
    ASSERT_TRUE(desk.drawn());
    const QImage dark = desk.window().grab().toImage();
    EXPECT_GT(qGray(light.pixel(1300, 1100)), 200);
    EXPECT_LT(qGray(dark.pixel(1300, 1100)), 80);
    EXPECT_GT(inkShare(dark), 0.05);
    desk.key(Qt::Key_D, Qt::ControlModifier);
}
