// Measuring by mouse and keyboard alone, from the first row to the file: on the drive of the gate's latch.

#include "desktop_support.h"
#include "ledger_view.h"
#include "references.h"
#include "row_sets.h"
#include "temporary_folder.h"
#include "trace_figure.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QMenu>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using test::Desk;
using test::dragAcross;

namespace {

class Measuring : public testing::Test {
protected:
    Measuring()
    {
        desk.openDemo();
        desk.showSheet("Gate latch");
        desk.bench().change("no regions", [](Document &all) { removeWithDependents(all, "window"); });
        EXPECT_TRUE(desk.settled());
        ledger = desk.find<QTableView>("ledgerTable");
        evidence = desk.find<QTableView>("evidenceTable");
    }
    ~Measuring() override { desk.bench().undoStack().clear(); }
    const Document &document() { return desk.bench().document(); }
    const SheetEntry &sheet() { return *findEntry(document().sheets, "gate_latch"); }
    const Row &row(const std::string &id) { return *findEntry(desk.bench().results()->rows, id); }
    QWidget *tile(const char *name) { return desk.window().findChild<QWidget *>(name); }
    int lineOf(const std::string &id)
    {
        const Row &of = row(id);
        return desk.ledgerRow(QString::fromStdString(of.title), QString::fromStdString(of.source));
    }
    /// Clicks a row of the Ledger, as one does.
    void choose(int line, Qt::KeyboardModifiers keys = {})
    {
        const QModelIndex at = ledger->model()->index(line, 0);
        ledger->scrollTo(at);
        QTest::mouseClick(ledger->viewport(), Qt::LeftButton, keys, ledger->visualRect(at).center());
        QTest::qWait(1); // what is chosen with it is told once
    }
    void evidenceComes(const std::string &id)
    {
        ASSERT_TRUE(test::waitFor([&] {
            return desk.bench().selection().id == id && evidence->model()->rowCount() > 0 &&
                   evidence->model()->columnCount() == 4;
        }));
    }
    /// Takes an action of the menu that is open, or opens next.
    void takeFromMenu(const QString &words)
    {
        desk.whenMenuOpens([words](QMenu &menu) {
            for (QAction *action : menu.actions()) {
                if (!action->text().contains(words)) continue;
                action->trigger();
                menu.close();
                return;
            }
            menu.close();
            ADD_FAILURE() << words.toStdString() << " is not in the menu";
        });
    }
    QRectF body(QWidget *of) { return QRectF(of->rect()).adjusted(4, 26, -4, -4); }
    TraceFigure traces()
    {
        const auto view = desk.bench().view();
        return traceFigure(*desk.bench().results(), document(), sheet().tiles[0], view.from, view.to);
    }
    Desk desk;
    QTableView *ledger, *evidence;
};

} // namespace

TEST_F(Measuring, TheWholeJobByKeyboardAndMouse)
{
    // Five quantities of two channels, by Ask.
    const std::size_t before = document().measurements.size();
    for (const char *channel : {"gate", "sea"}) {
        for (const char *quantity : {"peak to peak", "ac rms", "fall time", "negative width", "burst width"})
            desk.ask(QString("measure %1 of %2").arg(quantity, channel));
    }
    ASSERT_EQ(document().measurements.size(), before + 10);
    ASSERT_TRUE(desk.settled());
    ASSERT_GE(desk.ledgerRow("negative width", "gate"), 0);
    ASSERT_GE(desk.ledgerRow("negative width", "sea"), 0);

    // Why one cannot be had stands in its row, across the columns that have nothing to say.
    const int burst = desk.ledgerRow("burst width", "gate");
    EXPECT_THAT(desk.ledgerCell(burst, "mean").toStdString(), testing::HasSubstr("give a \"gap\""));
    EXPECT_EQ(ledger->columnSpan(burst, LedgerColumn::mean), LedgerColumn::limit - LedgerColumn::mean);

    // One is restricted to a region that is dragged on the traces.
    auto *trace = tile("traceTile");
    const int negative = desk.ledgerRow("negative width", "gate");
    choose(negative);
    const std::string id = desk.bench().selection().id;
    const std::int64_t whole = row(id).statistics.count;
    QTest::mousePress(trace, Qt::LeftButton, Qt::ControlModifier, {150, 100});
    QTest::mouseMove(trace, {300, 100});
    QTest::mouseMove(trace, {600, 100});
    QTest::mouseRelease(trace, Qt::LeftButton, Qt::ControlModifier, {600, 100});
    ASSERT_EQ(document().regions.size(), 1u);
    const std::string region = document().regions[0].id;
    choose(negative);
    auto *regions = desk.find<QComboBox>("region");
    ASSERT_NE(regions, nullptr);
    regions->setCurrentIndex(regions->findData(QString::fromStdString(region)));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(findEntry(document().measurements, id)->region, region);
    EXPECT_GT(row(id).statistics.count, 0);
    EXPECT_LT(row(id).statistics.count, whole);

    // A limit, in place.
    choose(negative);
    QTest::keyClick(ledger, Qt::Key_F2);
    auto *editor = ledger->findChild<QLineEdit *>();
    ASSERT_NE(editor, nullptr);
    QTest::keyClicks(editor, "< 1.5 ms");
    QTest::keyClick(editor, Qt::Key_Return);
    EXPECT_TRUE(test::waitFor([&] { return desk.ledgerCell(negative, "verdict") == "✓ pass"; }))
        << desk.ledgerCell(negative, "verdict").toStdString();

    // The tail of a histogram, its moments one after the other, and one of them kept out with a reason.
    auto *histogram = tile("histogramTile");
    ASSERT_TRUE(desk.drawn());
    QTest::mouseClick(histogram, Qt::LeftButton, {}, {histogram->width() - 21, histogram->height() - 60});
    evidenceComes("pull");
    ASSERT_TRUE(desk.bench().question().values);
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->index(0, 1).data().toString().startsWith("1.4"); }));
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_Down);
    const auto first = desk.bench().moment();
    ASSERT_TRUE(first);
    EXPECT_EQ(first->instants.size(), 2u);
    EXPECT_NEAR(first->to - first->from, 1.4e-3, 1e-6);
    QTest::keyClick(evidence, Qt::Key_Down);
    ASSERT_NE(desk.bench().moment()->from, first->from);
    const std::int64_t pulses = row("pull").statistics.count;
    desk.answer("contact bounced");
    QTest::keyClick(evidence, Qt::Key_K);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(row("pull").statistics.count, pulses - 1);
    ASSERT_EQ(row("pull").keptOut.size(), 1u);
    EXPECT_EQ(row("pull").keptOut[0].reason, "contact bounced");
    EXPECT_EQ(desk.ledgerCell(lineOf("pull"), "count"), QString("%1 − 1").arg(pulses - 1));

    // It is listed, and let back in by the same key; undo goes through it step by step.
    choose(lineOf("pull"));
    ASSERT_TRUE(
        test::waitFor([&] { return evidence->model()->index(0, 2).data().toString() == "kept out: contact bounced"; }));
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    evidence->setFocus();
    EXPECT_EQ(desk.find<QPushButton>("evidenceOut")->text(), "K  let back in");
    QTest::keyClick(evidence, Qt::Key_K);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(row("pull").statistics.count, pulses);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(row("pull").statistics.count, pulses - 1);

    // And out to a file: what counts.
    const test::TemporaryFolder folder;
    desk.bench().exportPopulation(QString::fromStdString(folder / "pull.csv"), "pull");
    ASSERT_TRUE(test::waitFor([&] { return QFile::exists(QString::fromStdString(folder / "pull.csv")); }));
    QFile table(QString::fromStdString(folder / "pull.csv"));
    ASSERT_TRUE(table.open(QIODevice::ReadOnly));
    EXPECT_EQ(table.readAll().count('\n'), pulses); // with the heading
}

TEST_F(Measuring, ALevelIsDraggedOnTheTraceForAllWhoShareIt)
{
    choose(lineOf("latch_rise"));
    ASSERT_EQ(desk.bench().selection().id, "latch_rise");
    auto *trace = tile("traceTile");
    ASSERT_TRUE(desk.drawn());
    const TraceFigure figure = traces();
    const double high = row("latch_rise").levels.at(0).levels.states.high,
                 low = row("latch_rise").levels[0].levels.states.low;
    const auto yOf = [&](double percent) { return figure.yOf(body(trace), 0, low + percent / 100 * (high - low)); };
    const double x = figure.plotRect(body(trace)).center().x();
    const double rise = *row("latch_rise").statistics.mean;
    dragAcross(trace, QPointF(x, yOf(90)).toPoint(), QPointF(x, yOf(80)).toPoint());
    ASSERT_TRUE(desk.settled());
    const LevelsEntry &tenth = *findEntry(document().levels, "tenth");
    EXPECT_NEAR(tenth.high, 80, 1.5); // a pixel is 0.7 %
    EXPECT_EQ(tenth.mid, 50);
    EXPECT_LT(*row("latch_rise").statistics.mean, 0.9 * rise);
    // Not past its neighbour.
    dragAcross(trace, QPointF(x, yOf(tenth.high)).toPoint(), QPointF(x, yOf(20)).toPoint());
    EXPECT_NEAR(findEntry(document().levels, "tenth")->high, 50.1, 1e-9);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(findEntry(document().levels, "tenth")->high, 90);
}

TEST_F(Measuring, ALevelOfARowsOwnIsDraggedForItAlone)
{
    desk.bench().change("own", [](Document &document) { findEntry(document.measurements, "pull")->at = 30; });
    ASSERT_TRUE(desk.settled());
    choose(lineOf("pull"));
    auto *trace = tile("traceTile");
    ASSERT_TRUE(desk.drawn());
    const TraceFigure figure = traces();
    const StateLevels states = row("pull").levels.at(0).levels.states;
    const auto yOf = [&](double percent) {
        return figure.yOf(body(trace), 0, states.low + percent / 100 * states.amplitude());
    };
    const double x = figure.plotRect(body(trace)).center().x();
    dragAcross(trace, QPointF(x, yOf(30)).toPoint(), QPointF(x, yOf(70)).toPoint());
    EXPECT_NEAR(findEntry(document().measurements, "pull")->at.value_or(0), 70, 1.5);
    EXPECT_EQ(findEntry(document().levels, "tenth")->mid, 50);
}

TEST_F(Measuring, SeveralRowsAreSetTogether)
{
    choose(lineOf("pull"));
    choose(lineOf("latch_over"), Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().selectedWith().size() == 1; }));
    auto *levels = desk.find<QComboBox>("levels");
    ASSERT_NE(levels, nullptr);
    const int index = levels->findData("default");
    levels->setCurrentIndex(index);
    EXPECT_EQ(findEntry(document().measurements, "pull")->levels, "default");
    EXPECT_EQ(findEntry(document().measurements, "latch_over")->levels, "default");
    EXPECT_EQ(findEntry(document().measurements, "latch_rise")->levels, "tenth");
    auto *regions = desk.find<QComboBox>("region");
    regions->setCurrentIndex(regions->findText("what is in view, as a region"));
    ASSERT_EQ(document().regions.size(), 1u);
    EXPECT_EQ(document().regions[0].start, desk.bench().viewFrom());
    EXPECT_EQ(findEntry(document().measurements, "latch_over")->region, document().regions[0].id);
    EXPECT_EQ(findEntry(document().measurements, "pull")->region, document().regions[0].id);
}

TEST_F(Measuring, TheLedgerHasTheColumnsAndGroupsThatAreChosen)
{
    auto *columns = desk.find<QPushButton>("ledgerColumns");
    EXPECT_TRUE(ledger->isColumnHidden(LedgerColumn::median));
    takeFromMenu("median");
    QTest::mouseClick(columns, Qt::LeftButton);
    EXPECT_FALSE(ledger->isColumnHidden(LedgerColumn::median));
    ASSERT_TRUE(test::waitFor([&] { return desk.ledgerCell(lineOf("pull"), "median") != ""; }));
    EXPECT_THAT(desk.ledgerCell(lineOf("pull"), "median").toStdString(), testing::StartsWith("600"));
    takeFromMenu("in view");
    QTest::mouseClick(columns, Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] { return desk.ledgerCell(lineOf("pull"), "in view").contains("("); }));
    const QString inView = desk.ledgerCell(lineOf("pull"), "in view");
    desk.bench().fitView();
    ASSERT_TRUE(test::waitFor([&] { return desk.ledgerCell(lineOf("pull"), "in view").contains("(53)"); }));
    EXPECT_NE(inView, desk.ledgerCell(lineOf("pull"), "in view"));

    const int rows = ledger->model()->rowCount();
    takeFromMenu("by channel");
    QTest::mouseClick(columns, Qt::LeftButton);
    EXPECT_GT(ledger->model()->rowCount(), rows);
    int heading = -1;
    for (int line = 0; line < ledger->model()->rowCount(); ++line)
        if (desk.ledgerCell(line, 0) == "gate" && desk.ledgerCell(line, 1).isEmpty()) heading = line;
    ASSERT_GE(heading, 0);
    EXPECT_EQ(desk.ledgerCell(heading + 1, 1), "gate");
    EXPECT_EQ(ledger->columnSpan(heading, 0), ledger->model()->columnCount());
    // Sorted, groups stay; filtered, a heading without rows goes.
    ledger->sortByColumn(LedgerColumn::quantity, Qt::DescendingOrder);
    EXPECT_EQ(desk.ledgerCell(0, 1), "");
    QTest::keyClicks(desk.find<QLineEdit>("ledgerFilter"), "runts");
    EXPECT_EQ(ledger->model()->rowCount(), 2);
    desk.find<QLineEdit>("ledgerFilter")->clear();
    ledger->sortByColumn(-1, Qt::AscendingOrder);
    for (const char *again : {"median", "in view", "in the order"}) {
        takeFromMenu(again);
        QTest::mouseClick(columns, Qt::LeftButton);
    }
    EXPECT_EQ(ledger->model()->rowCount(), rows);
    EXPECT_TRUE(ledger->isColumnHidden(LedgerColumn::inView));
}

TEST_F(Measuring, TheTableIsCopiedAsMarkdownAndCsv)
{
    desk.ask("copy the table as markdown");
    ASSERT_TRUE(test::waitFor([&] { return QApplication::clipboard()->text().startsWith("| quantity |"); }));
    const QStringList lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
    EXPECT_EQ(lines.size(), 2 + ledger->model()->rowCount());
    for (const QString &line : lines) EXPECT_EQ(line.count('|'), lines[0].count('|')) << line.toStdString();
    desk.ask("copy the table as csv");
    ASSERT_TRUE(test::waitFor([&] { return QApplication::clipboard()->text().startsWith("quantity,of,"); }));
    EXPECT_EQ(QApplication::clipboard()->text().count('\n'), 1 + ledger->model()->rowCount());
}

TEST_F(Measuring, WhatFitsAChannelIsOfferedWithItsReason)
{
    desk.bench().select({Selection::Kind::channel, "gate"});
    desk.key(Qt::Key_M, Qt::ControlModifier);
    auto *list = desk.find<QListWidget>("pickerList");
    const auto offered = [&](const QString &words) -> QListWidgetItem * {
        for (int at = 0; at < list->count(); ++at)
            if (list->item(at)->text().contains(words)) return list->item(at);
        return nullptr;
    };
    ASSERT_TRUE(test::waitFor([&] { return offered("It looks like: pulse train") != nullptr; }));
    EXPECT_TRUE(offered("no single period or unit interval fits"));
    const Document before = document();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                      list->visualItemRect(offered("It looks like: pulse train")).center());
    EXPECT_GT(document().measurements.size(), before.measurements.size() + 8);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(document(), before); // one step

    desk.bench().select({Selection::Kind::channel, "sea"});
    desk.key(Qt::Key_M, Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor([&] { return offered("With heard: input and output") != nullptr; }));
    EXPECT_TRUE(offered("It looks like: sine"));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(offered("With heard")).center());
    EXPECT_EQ(document().measurements.back().to, "heard");
}

TEST_F(Measuring, ASetOfRowsIsKeptAndLaidOnAnotherChannel)
{
    choose(lineOf("latch_rise"));
    choose(lineOf("latch_over"), Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().selectedWith().size() == 1; }));
    desk.answer("edges");
    desk.ask("keep the chosen rows");
    ASSERT_TRUE(test::waitFor([&] { return desk.message().contains("Kept as"); }));
    desk.bench().select({Selection::Kind::channel, "p"});
    desk.key(Qt::Key_M, Qt::ControlModifier);
    auto *list = desk.find<QListWidget>("pickerList");
    QListWidgetItem *set = nullptr;
    for (int at = 0; at < list->count(); ++at)
        if (list->item(at)->text() == "Your set \"edges\": 2 rows") set = list->item(at);
    ASSERT_TRUE(set);
    const std::size_t before = document().measurements.size();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(set).center());
    ASSERT_EQ(document().measurements.size(), before + 2);
    EXPECT_EQ(document().measurements.back().source, "p");
    EXPECT_EQ(document().measurements.back().levels, "tenth");
    EXPECT_EQ(document().measurements.back().limit.max, 25);
    forgetRowSet("edges");
}

TEST_F(Measuring, ABoxOnATraceBecomesAHistogram)
{
    auto *trace = tile("traceTile");
    const std::size_t before = sheet().tiles.size();
    QTest::mousePress(trace, Qt::LeftButton, Qt::ControlModifier | Qt::ShiftModifier, {150, 60});
    QTest::mouseMove(trace, {300, 120});
    QTest::mouseMove(trace, {700, 200});
    takeFromMenu("Histogram of the values of gate");
    QTest::mouseRelease(trace, Qt::LeftButton, Qt::ControlModifier | Qt::ShiftModifier, {700, 200});
    ASSERT_TRUE(test::waitFor([&] { return document().measurements.back().quantity == "sample_values"; }));
    ASSERT_TRUE(desk.settled());
    const MeasurementEntry &made = document().measurements.back();
    ASSERT_TRUE(made.above && made.below);
    const Row &values = row(made.id);
    ASSERT_TRUE(values.measurable()) << values.reason;
    EXPECT_GE(*values.statistics.min, *made.above);
    EXPECT_LE(*values.statistics.max, *made.below);
    EXPECT_EQ(sheet().tiles.size(), before + 1);
    desk.key(Qt::Key_Z, Qt::ControlModifier); // one step
    EXPECT_EQ(sheet().tiles.size(), before);
    EXPECT_TRUE(document().regions.empty());
}

TEST_F(Measuring, TilesAreSetInTheInspectorAndAnswerClicks)
{
    // A histogram's bars and lines.
    choose(lineOf("pull"));
    auto *bins = desk.find<QLineEdit>("bins");
    ASSERT_NE(bins, nullptr);
    bins->setText("40");
    QTest::keyClick(bins, Qt::Key_Return);
    EXPECT_EQ(sheet().tiles[1].bins, 40);
    const QImage before = tile("histogramTile")->grab().toImage();
    desk.find<QCheckBox>("log_counts")->click();
    EXPECT_TRUE(sheet().tiles[1].logCounts);
    ASSERT_TRUE(desk.drawn());
    EXPECT_NE(tile("histogramTile")->grab().toImage(), before);

    // A spectrum: its strongest line leads to moments in the order of time.
    choose(lineOf("latch_over"));
    desk.ask("add the spectrum of the trend");
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(desk.drawn());
    auto *spectrum = tile("spectrumTile");
    ASSERT_NE(spectrum, nullptr);
    QTest::mouseClick(spectrum, Qt::LeftButton, {}, spectrum->rect().center());
    ASSERT_TRUE(desk.bench().question().frequency);
    evidenceComes("latch_over");
    auto *order = desk.find<QPushButton>("evidenceOrder");
    EXPECT_EQ(order->text(), "worst first");

    // One against another: a point is a moment.
    choose(lineOf("latch_over"));
    desk.ask("against another row");
    ASSERT_TRUE(desk.settled());
    desk.bench().change("rise time up", [](Document &changed) {
        findEntry(changed.sheets, "gate_latch")->tiles.back().of.push_back("latch_rise");
    });
    ASSERT_TRUE(desk.settled());
    auto *scatter = tile("scatterTile");
    ASSERT_NE(scatter, nullptr);
    scatter->grab();
    ASSERT_TRUE(desk.drawn());
    std::optional<RecordSpan> found;
    for (int y = 40; y < scatter->height() - 30 && !found; y += 9) {
        for (int x = 80; x < scatter->width() - 20 && !found; x += 9) {
            QTest::mouseClick(scatter, Qt::LeftButton, {}, {x, y});
            found = desk.bench().moment();
        }
    }
    ASSERT_TRUE(found);
    EXPECT_EQ(found->channel, "gate");
    const Population &all = row("latch_over").measured->population;
    ASSERT_TRUE(test::waitFor([&] { // and Evidence stands on it
        const QModelIndex at = evidence->currentIndex();
        return at.isValid() && desk.bench().moment()->words == at.siblingAtColumn(1).data().toString().toStdString();
    }));
    bool isOne = false;
    for (std::size_t i = 0; i < all.size(); ++i) isOne |= all.time(i) == found->instants[0];
    EXPECT_TRUE(isOne);
}

TEST_F(Measuring, ARowIsMeasuredAgainInARegionAndItsHistogramWritten)
{
    desk.bench().change("region", [](Document &document) { document.regions.push_back({"early", 0, 0.03}); });
    choose(lineOf("pull"));
    const std::size_t before = document().measurements.size();
    desk.ask("measure the same in the region early");
    ASSERT_EQ(document().measurements.size(), before + 1);
    const std::string again = document().measurements.back().id;
    EXPECT_EQ(desk.bench().selection().id, again);
    EXPECT_EQ(document().measurements.back().region, "early");
    EXPECT_EQ(document().measurements.back().limit.min, 2e-4);
    ASSERT_TRUE(desk.settled());
    EXPECT_LT(row(again).statistics.count, row("pull").statistics.count);

    const test::TemporaryFolder folder;
    desk.bench().exportHistogram(QString::fromStdString(folder / "pull.csv"), "pull");
    ASSERT_TRUE(test::waitFor([&] { return QFile::exists(QString::fromStdString(folder / "pull.csv")); }));
    QFile table(QString::fromStdString(folder / "pull.csv"));
    ASSERT_TRUE(table.open(QIODevice::ReadOnly));
    const QStringList lines = QString::fromUtf8(table.readAll()).split('\n', Qt::SkipEmptyParts);
    ASSERT_EQ(lines.size(), 121); // the tile's bars, and their headings
    qint64 all = 0;
    for (const QString &line : lines.mid(1)) all += qint64(line.section(',', 2, 2).toDouble());
    EXPECT_EQ(all, row("pull").statistics.count);
}

TEST_F(Measuring, EvidenceGoesByTimeAndNamesRegions)
{
    choose(lineOf("latch_over"));
    evidenceComes("latch_over");
    const QString worst = evidence->model()->index(0, 0).data().toString();
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_T);
    ASSERT_TRUE(test::waitFor([&] { return evidence->model()->index(0, 0).data().toString() != worst; }));
    EXPECT_EQ(desk.find<QPushButton>("evidenceOrder")->text(), "by time");
    evidence->setCurrentIndex(evidence->model()->index(2, 0));
    QTest::keyClick(evidence, Qt::Key_R);
    ASSERT_EQ(document().regions.size(), 1u);
    const Population &all = row("latch_over").measured->population;
    EXPECT_EQ(document().regions[0].start, all.time(2));
    EXPECT_EQ(document().regions[0].stop, all.end(2));
    EXPECT_EQ(evidence->currentIndex().row(), 2); // and one steps on from there
    EXPECT_EQ(desk.bench().selection().id, "latch_over");
}

TEST_F(Measuring, EvidenceByTimeStaysAtItsMoment)
{
    choose(lineOf("tr"));
    evidenceComes("tr");
    ASSERT_GT(row("tr").statistics.count, 2 * evidence->model()->rowCount());
    evidence->setCurrentIndex(evidence->model()->index(0, 0));
    const QString worst = evidence->model()->index(0, 0).data().toString();
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_T);
    ASSERT_TRUE(test::waitFor([&] { return evidence->currentIndex().row() > 10; }));
    EXPECT_EQ(evidence->model()->index(evidence->currentIndex().row(), 0).data().toString(), worst);
    evidence->clearSelection();
    for (const char *name : {"evidenceNote", "evidenceRegion", "evidenceOut"})
        EXPECT_FALSE(desk.find<QPushButton>(name)->isEnabled()) << name;
}
