// Clocks and eyes by hand: a window along the record, a clock that does not fit, levels told apart.

#include "desktop_support.h"
#include "eye_figure.h"
#include "temporary_folder.h"
#include "tile_frame.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

/// Where the Strip shows a moment.
int stripX(Desk &desk, double time)
{
    const auto record = *desk.bench().record();
    const auto *strip = desk.find<QWidget>("strip");
    return 14 + int((time - record.first) / (record.second - record.first) * (strip->width() - 28));
}

const MaskRun &maskOf(Desk &desk, const char *id)
{
    return *findEntry(desk.bench().results()->masks, std::string(id));
}

std::vector<QPushButton *> remedies(Desk &desk)
{
    const auto found = desk.find<QWidget>("inspectorScroll")->findChildren<QPushButton *>("remedy");
    return {found.begin(), found.end()};
}

QString inspectorWords(Desk &desk)
{
    QStringList words;
    for (const QLabel *label : desk.find<QWidget>("inspectorScroll")->findChildren<QLabel *>()) words << label->text();
    return words.join("\n");
}

} // namespace

/// A window of a tenth of the record is dragged by its tab: the eye follows, and its mask fails where the dent is.
TEST(Eyes, AWindowDraggedAlongTheStripFindsWhereTheRecordBreaks)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(maskOf(desk, "mask").result->failedUnitIntervals, 1);
    QTest::mouseClick(desk.find<QWidget>("eyeTile"), Qt::LeftButton, {}, QPoint(40, 10));
    desk.key(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().regions.size(), 2u) << "the demo has one";
    const auto window = [&] { return desk.bench().document().regions.back(); };
    const double length = window().stop - window().start;
    EXPECT_NEAR(length, 12.5e-6, 1e-9);
    EXPECT_EQ(findEntry(desk.bench().document().eyes, std::string("eye"))->region, window().id);
    EXPECT_NEAR(double(findEntry(desk.bench().results()->eyes, std::string("eye"))->fold->unitIntervals),
                length * 640e6, 3);

    auto *strip = desk.find<QWidget>("strip");
    const auto at = [&](double time) { return QPoint(stripX(desk, time), 5); };
    QTest::mousePress(strip, Qt::LeftButton, {}, at(window().start + length / 2));
    std::vector<std::int64_t> failed;
    for (const double middle : {20e-6, 50e-6, 80e-6, 107e-6, 118e-6}) {
        QTest::mouseMove(strip, at(middle));
        ASSERT_TRUE(desk.settled());
        EXPECT_NEAR((window().start + window().stop) / 2, middle, 0.3e-6);
        EXPECT_NEAR(window().stop - window().start, length, 1e-12);
        failed.push_back(maskOf(desk, "mask").result->failedUnitIntervals);
    }
    QTest::mouseRelease(strip, Qt::LeftButton, {}, at(118e-6));
    EXPECT_THAT(failed, testing::ElementsAre(0, 0, 0, 1, 0));

    // It stays within the record; its end makes it shorter; one step each way takes it all back.
    QTest::mousePress(strip, Qt::LeftButton, {}, at((window().start + window().stop) / 2));
    QTest::mouseMove(strip, QPoint(strip->width() - 1, 5));
    QTest::mouseRelease(strip, Qt::LeftButton, {}, QPoint(strip->width() - 1, 5));
    EXPECT_NEAR(window().stop, desk.bench().record()->second, 1e-12);
    QTest::mousePress(strip, Qt::LeftButton, {}, at(window().start) + QPoint(1, 0));
    QTest::mouseMove(strip, at(window().start + length / 2));
    QTest::mouseRelease(strip, Qt::LeftButton, {}, at(window().start + length / 2));
    EXPECT_NEAR(window().stop - window().start, length / 2, 0.3e-6);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(window().stop - window().start, length, 1e-12);

    desk.bench().select({Selection::Kind::eye, "eye"});
    desk.ask("fold all of the record");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(maskOf(desk, "mask").result->failedUnitIntervals, 1);
}

/// The demo's fixed clock leaves the oscillator's wander in the eye: that is said at the clock, and one click mends it.
TEST(Eyes, AWrongClockIsRecognisedAndMendedByWhatIsOffered)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Wrong clock");
    ASSERT_TRUE(desk.settled());
    const std::int64_t before = maskOf(desk, "mask_smeared").result->failedUnitIntervals;
    EXPECT_GT(before, 5000);
    desk.bench().select({Selection::Kind::clock, "ideal"});
    ASSERT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("which smears the eye"); }));
    const auto offered = remedies(desk);
    ASSERT_EQ(offered.size(), 1u);
    EXPECT_TRUE(offered[0]->text().startsWith("Follow it with a loop of 384")) << offered[0]->text().toStdString();
    QTest::mouseClick(offered[0], Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, std::string("ideal"))->method, "pll");
    EXPECT_EQ(maskOf(desk, "mask_smeared").result->failedUnitIntervals, 1); // the dent
    ASSERT_TRUE(test::waitFor([&] { return !inspectorWords(desk).contains("smears") && remedies(desk).empty(); }));
    EXPECT_TRUE(desk.find<QWidget>("loopPlot"));
}

/// The three-level line's two openings, and the four-level line's three, each by name in the Ledger; the transitions
/// tell the code.
TEST(Eyes, OpeningsOfSeveralLevelsStandInTheLedger)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Level bus");
    ASSERT_TRUE(desk.settled());
    const auto heightOf = [&](const char *opening, const char *eye) {
        return desk.ledgerCell(desk.ledgerRow(QString("eye height, opening ") + opening, eye), "mean");
    };
    EXPECT_TRUE(heightOf("0", "eye_three").startsWith("868")) << heightOf("0", "eye_three").toStdString();
    EXPECT_TRUE(heightOf("1", "eye_three").startsWith("86"));
    EXPECT_TRUE(heightOf("1", "eye_four").startsWith("1.02"));
    EXPECT_TRUE(heightOf("2", "eye_four").startsWith("70"));
    EXPECT_TRUE(desk.ledgerCell(desk.ledgerRow("eye height, opening 2", "eye_four"), "verdict").contains("fail"));

    desk.bench().select({Selection::Kind::clock, "beside_three"});
    auto *transitions = desk.find<QWidget>("transitions");
    ASSERT_TRUE(transitions);
    EXPECT_GT(transitions->height(), 3 * 20);
    const ClockResult &clock = *findEntry(desk.bench().results()->clocks, std::string("beside_three"));
    EXPECT_EQ(clock.transitions[0 * 3 + 2], 0); // never two levels at once
    EXPECT_GT(clock.transitions[0 * 3 + 1], 1000);
    // Heard apart as two levels, that is said, and mended.
    auto *levels = desk.find<QComboBox>("modulation");
    ASSERT_TRUE(levels);
    levels->setCurrentIndex(levels->findData("4"));
    levels->activated(levels->currentIndex());
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().clocks, std::string("beside_three"))->modulation, 4);
}

/// One action takes a clock that comes beside a channel; the other channel of its capture is taken for it, and may be
/// exchanged.
TEST(Eyes, AClockBesideTheDataIsTakenInOneStep)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::channel, "four"});
    desk.ask("clock that comes beside");
    ASSERT_TRUE(desk.settled());
    const ClockEntry clock = desk.bench().document().clocks.back();
    EXPECT_EQ(clock.method, "forwarded");
    EXPECT_EQ(clock.from, "tick");
    const ClockResult *result = findEntry(desk.bench().results()->clocks, clock.id);
    ASSERT_TRUE(result && result->clock);
    EXPECT_NEAR(result->rate, 50e6, 100);
    // Two levels of four are told apart: it says so.
    ASSERT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("4 amplitude levels"); }));
    ASSERT_EQ(remedies(desk).size(), 1u);
    QTest::mouseClick(remedies(desk)[0], Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().clocks.back().modulation, 4);
    ASSERT_TRUE(test::waitFor([&] { return !inspectorWords(desk).contains("told apart"); }));
}

/// From the mask's hit to the bit: its curve over the eye, the symbols about it, the trace, a note.
TEST(Eyes, TheDentedBitIsFoundFromTheMaskToTheTraceAndNoted)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    auto *tile = desk.find<QWidget>("eyeTile");
    auto *evidence = desk.find<QTableView>("evidenceTable");
    QTest::mouseClick(tile, Qt::LeftButton, {}, QPoint(40, 10));
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->rowCount() == 1; }));
    const auto cell = [&](int row, int column) { return evidence->model()->index(row, column).data().toString(); };
    EXPECT_TRUE(cell(0, 0).startsWith("107.10"));
    EXPECT_EQ(cell(0, 2), "110011 1 110011") << cell(0, 2).toStdString(); // in the middle of a run of ones
    QTest::mouseClick(evidence->viewport(), Qt::LeftButton, {},
                      evidence->visualRect(evidence->model()->index(0, 0)).center());
    ASSERT_TRUE(desk.drawn());
    EXPECT_LT(desk.bench().viewFrom(), 107.1034e-6);
    EXPECT_GT(desk.bench().viewTo(), 107.1030e-6);
    // Its curve stands out of the eye in the ink of failures: more of it than the cross alone.
    const auto inked = [&] {
        const QImage image = tile->grab().toImage();
        int count = 0;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) count += image.pixel(x, y) == desk.bench().look().fail.rgb();
        return count;
    };
    EXPECT_GT(inked(), 150);
    desk.answer("the dented bit");
    QTest::keyClick(evidence, Qt::Key_N);
    EXPECT_EQ(desk.bench().document().notes.back().text, "the dented bit");
    EXPECT_NEAR(desk.bench().document().notes.back().time, 107.103e-6, 1e-9);
}

/// A box: the unit intervals that pass there are drawn over the eye, and their moments lie on the Strip; one that is
/// stepped to stands out. The other way, a stretch of the trace is drawn as its path.
TEST(Eyes, ABoxShowsItsUnitIntervalsAsCurvesAndAStretchItsPath)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("After the fix"); // after the fix: nothing fails
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    auto *tile = desk.find<QWidget>("eyeTile");
    auto *strip = desk.find<QWidget>("strip");
    auto *evidence = desk.find<QTableView>("evidenceTable");
    const auto grabbed = [&](QWidget *of) { return of->grab().toImage(); };
    const QImage before = grabbed(tile);
    // Left of the crossing: transitions that come early.
    const QRect plot = QRect(QPoint(72, 30), QPoint(tile->width() - 14, tile->height() - 24));
    const auto at = [&](double ui, double share) {
        return QPoint(plot.left() + int((ui + 0.5) / 2 * plot.width()), plot.top() + int(share * plot.height()));
    };
    test::dragAcross(tile, at(-0.06, 0.4), at(-0.02, 0.6));
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().momentsOf() == "eye2"; }));
    ASSERT_GT(evidence->model()->rowCount(), 3);
    ASSERT_TRUE(desk.drawn());
    EXPECT_EQ(desk.bench().moments().size(), std::size_t(evidence->model()->rowCount()));
    const QImage boxed = grabbed(tile), marked = grabbed(strip);
    EXPECT_NE(boxed, before);
    QTest::mouseClick(evidence->viewport(), Qt::LeftButton, {},
                      evidence->visualRect(evidence->model()->index(1, 0)).center());
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(grabbed(tile), boxed);
    desk.bench().select({});
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().momentsOf().empty(); }));
    EXPECT_NE(grabbed(strip), marked);

    ASSERT_TRUE(desk.drawn());
    const QImage plain = grabbed(tile);
    desk.bench().change("region", [](Document &document) { document.regions.push_back({"some", 20e-6, 20.012e-6}); });
    desk.bench().select({Selection::Kind::region, "some"});
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(grabbed(tile), plain);
}

/// Each quantity of an eye is drawn on it where it was measured, as long as its row is selected.
TEST(Eyes, EachQuantityIsDrawnWhereItWasMeasured)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("After the fix");
    ASSERT_TRUE(desk.settled());
    std::vector<std::string> rows;
    desk.bench().change("rows", [&](Document &document) {
        for (const char *quantity : {"one_level", "zero_level", "eye_amplitude", "eye_height", "eye_width",
                                     "crossing_level", "one_noise", "zero_noise", "q_factor", "signal_to_noise",
                                     "eye_jitter_rms", "eye_jitter_pp", "eye_rise_time", "eye_fall_time"}) {
            MeasurementEntry entry;
            entry.id = freeId(document, quantity);
            entry.quantity = quantity;
            entry.eye = "eye2";
            rows.push_back(entry.id);
            document.measurements.push_back(entry);
        }
    });
    ASSERT_TRUE(desk.settled());
    desk.bench().select({});
    ASSERT_TRUE(desk.drawn());
    auto *tile = desk.find<QWidget>("eyeTile");
    const auto accented = [&] {
        const QImage image = tile->grab().toImage();
        int count = 0;
        for (int y = 30; y < image.height() - 2; ++y) // beneath the head
            for (int x = 4; x < image.width() - 4; ++x) count += image.pixel(x, y) == desk.bench().look().accent.rgb();
        return count;
    };
    const int plain = accented();
    for (const std::string &row : rows) {
        EXPECT_TRUE(findEntry(desk.bench().results()->rows, row)->measurable()) << row;
        desk.bench().select({Selection::Kind::measurement, row});
        EXPECT_GT(accented(), plain + 8) << row;
    }
    desk.bench().select({Selection::Kind::measurement, "tr"}); // of no eye
    EXPECT_EQ(accented(), plain);
}

/// What a clock's channel sends: said at the clock, its errors counted by one click, words of it found and stepped
/// through, and all of it seen under the trace.
TEST(Bits, AreReadCountedAndSearchedFor)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::clock, "loop"});
    ASSERT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("PRBS 9"); }));
    QTest::mouseClick(desk.find<QPushButton>("addBitErrors"), Qt::LeftButton);
    ASSERT_TRUE(desk.settled());
    const auto &rows = desk.bench().results()->rows;
    const auto errors =
        std::find_if(rows.begin(), rows.end(), [](const Row &row) { return row.quantity == "bit_errors"; });
    ASSERT_NE(errors, rows.end());
    EXPECT_EQ(*errors->statistics.mean, 0) << "the dent does not reach the threshold";

    QWidget *trace = desk.find<QWidget>("traceTile");
    ASSERT_TRUE(trace);
    ASSERT_TRUE(desk.drawn());
    const QImage close = trace->grab().toImage();
    desk.bench().setView(50e-6, 50.1e-6); // 64 unit intervals
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(trace->grab().toImage(), close);

    desk.answer("111110");
    desk.ask("find symbols in eye");
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().moments().size() > 10; }));
    // A maximum-length sequence of 9 stages has each word of 6 symbols 8 times.
    const double repeats = 78719.0 / 511;
    QString title;
    for (const QLabel *label : desk.window().findChildren<QLabel *>())
        if (label->toolTip().startsWith("where 111110 is sent: ")) title = label->toolTip();
    EXPECT_NEAR(title.section(": ", 1).section(" ", 0, 0).toDouble(), 8 * repeats, 8);
    desk.answer("12x");
    desk.ask("find symbols in eye");
    EXPECT_TRUE(test::waitFor([&] { return desk.message().contains("is no symbol"); }));
}

/// An eye as single traces, as contours, as error ratios, one to three unit intervals wide; what stands under the
/// pointer says whether it was measured; a box of it becomes a row with its histogram.
TEST(Eyes, AreShownInSeveralWaysAndReadOutUnderThePointer)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::eye, "eye"});
    auto *tile = desk.find<QWidget>("eyeTile");
    std::vector<QImage> seen;
    const auto look = [&] {
        ASSERT_TRUE(desk.settled());
        ASSERT_TRUE(desk.drawn());
        const QImage now = tile->grab().toImage();
        for (const QImage &before : seen) EXPECT_NE(now, before);
        seen.push_back(now);
    };
    look();
    const auto *fold = desk.bench().results()->eyes[1].fold.get();
    for (const int shown : {1, 2, 3}) {
        auto *choice = desk.find<QComboBox>("shown");
        ASSERT_TRUE(choice);
        choice->setCurrentIndex(shown);
        emit choice->activated(shown);
        look();
    }
    auto *width = desk.find<QComboBox>("width");
    ASSERT_TRUE(width);
    width->setCurrentIndex(2);
    emit width->activated(2);
    look();
    EXPECT_EQ(desk.bench().results()->eyes[1].fold.get(), fold) << "nothing is folded again";

    const EyeFigure figure = eyeFigure(*desk.bench().results(), "eye");
    EXPECT_EQ(figure.right - figure.left, 3);
    ASSERT_TRUE(figure.errors);
    const QRectF plot = figure.plotRect(QRectF(tile->rect()).adjusted(4, TileFrame::headHeight, -4, -4));
    EXPECT_TRUE(figure.wordsAt(0.5, 0).contains("extrapolated")) << figure.wordsAt(0.5, 0).toStdString();
    EXPECT_TRUE(figure.wordsAt(0.02, 0.1).contains("measured")) << figure.wordsAt(0.02, 0.1).toStdString();
    const QImage before = tile->grab().toImage();
    QTest::mouseMove(tile, figure.pointOf(plot, 0.5, 0.05).toPoint());
    EXPECT_NE(tile->grab().toImage(), before);

    // A box over the upper level.
    test::dragAcross(tile, figure.pointOf(plot, 0.45, 0.3).toPoint(), figure.pointOf(plot, 0.55, 0.5).toPoint());
    ASSERT_TRUE(desk.settled());
    desk.ask("histogram of the levels in the box of eye");
    ASSERT_TRUE(desk.settled());
    const Row *row = findEntry(desk.bench().results()->rows, desk.bench().selection().id);
    ASSERT_TRUE(row);
    EXPECT_EQ(row->quantity, "eye_box_levels");
    ASSERT_TRUE(row->statistics.mean) << row->reason;
    EXPECT_NEAR(*row->statistics.mean, 0.4, 0.02);
    EXPECT_TRUE(desk.find<QWidget>("histogramTile"));
}

/// Thresholds and levels that were found are corrected by their grips, and become the clock's own.
TEST(Eyes, LevelsAndThresholdsAreCorrectedByDragging)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Level bus");
    ASSERT_TRUE(desk.settled());
    desk.bench().select({Selection::Kind::eye, "eye_four"});
    auto *tile = desk.find<QWidget>("eyeTile");
    const auto eye = [&]() -> const EyeResult & {
        return *findEntry(desk.bench().results()->eyes, std::string("eye_four"));
    };
    ASSERT_EQ(eye().rule.thresholds.size(), 3u);
    const auto before = eye().rule.thresholds;
    const EyeFigure figure = eyeFigure(*desk.bench().results(), "eye_four");
    const QRectF plot = figure.plotRect(QRectF(tile->rect()).adjusted(4, TileFrame::headHeight, -4, -4));
    const auto right = [&](double value) {
        return QPoint(int(plot.right()) - 6, int(figure.pointOf(plot, 0, value).y()));
    };
    test::dragAcross(tile, right(before[1]), right(before[1] + 0.1));
    ASSERT_TRUE(desk.settled());
    const auto levels = [&] { return findEntry(desk.bench().document().clocks, std::string("beside_four"))->levels; };
    EXPECT_NE(levels(), "default");
    const double pixel = (figure.high - figure.low) / plot.height();
    EXPECT_NEAR(eye().rule.thresholds[1], before[1] + 0.1, 2 * pixel);
    EXPECT_EQ(eye().rule.thresholds[0], before[0]);
    // Never past its neighbour.
    test::dragAcross(tile, right(eye().rule.thresholds[1]), right(before[2] + 0.5));
    ASSERT_TRUE(desk.settled());
    EXPECT_LT(eye().rule.thresholds[1], eye().rule.thresholds[2]);
    // A level, at the other side.
    const double level = eye().fold->sum.level(0).mean;
    const QPoint left(int(plot.left()) + 6, int(figure.pointOf(plot, 0, level).y()));
    test::dragAcross(tile, left, left + QPoint(0, -10));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(desk.bench().document().levels, levels())->symbolLevels.size(), 4u);
    for (int step = 0; step < 3; ++step) desk.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(levels(), "default");
    EXPECT_EQ(eye().rule.thresholds, before);
}

/// A row that the pointer is over is seen on the eye, where it was measured; off it, no longer.
TEST(Eyes, ShowWhereTheRowUnderThePointerWasMeasured)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    auto *tile = desk.find<QWidget>("eyeTile");
    auto *table = desk.find<QTableView>("ledgerTable");
    ASSERT_TRUE(table);
    const QImage plain = tile->grab().toImage();
    const int row = desk.ledgerRow("eye height", "eye");
    ASSERT_GE(row, 0);
    table->scrollTo(table->model()->index(row, 0));
    QTest::mouseMove(table->viewport(), table->visualRect(table->model()->index(row, 0)).center());
    EXPECT_EQ(findEntry(desk.bench().document().measurements, desk.bench().pointedAt())->quantity, "eye_height");
    EXPECT_NE(tile->grab().toImage(), plain);
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(table->viewport(), &leave);
    EXPECT_EQ(tile->grab().toImage(), plain);
}

/// A loop as a standard defines it, by its name; what it says of itself is which clause.
TEST(Clocks, TakeTheLoopThatAStandardDefines)
{
    Desk desk;
    desk.openDemo();
    desk.bench().select({Selection::Kind::clock, "loop"});
    ASSERT_TRUE(desk.settled());
    auto *preset = desk.find<QComboBox>("preset");
    ASSERT_TRUE(preset);
    EXPECT_EQ(preset->currentIndex(), 0);
    preset->setCurrentIndex(1);
    emit preset->activated(1);
    ASSERT_TRUE(desk.settled());
    const ClockEntry &clock = *findEntry(desk.bench().document().clocks, std::string("loop"));
    EXPECT_EQ(clock.order, 1);
    EXPECT_NEAR(clock.bandwidth, 640e6 / 1667, 10);
    EXPECT_TRUE(test::waitFor([&] { return inspectorWords(desk).contains("MJSQ"); }));
    EXPECT_EQ(desk.find<QComboBox>("preset")->currentIndex(), 1);
}
