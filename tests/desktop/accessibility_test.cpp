// For everyone: the whole job by keyboard, names for those who hear the screen, contrast, and a line's shape beside its
// ink.

#include "desktop_support.h"
#include "evidence_view.h"
#include "report_page.h"
#include "temporary_folder.h"
#include "trace_figure.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAccessible>
#include <QComboBox>
#include <QLineEdit>
#include <QMenuBar>
#include <QSlider>
#include <fstream>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

/// What a screen reader would say of a widget; empty: nothing that helps.
QString saidOf(QWidget *widget)
{
    QAccessibleInterface *heard = QAccessible::queryAccessibleInterface(widget);
    if (!heard) return {};
    QString said = heard->text(QAccessible::Name);
    if (said.isEmpty()) said = heard->text(QAccessible::Description);
    if (auto *edit = qobject_cast<QLineEdit *>(widget); edit && said.isEmpty()) said = edit->placeholderText();
    return said;
}

/// Widgets that take the focus and say nothing of themselves.
QStringList silent(QWidget &window)
{
    QStringList names;
    for (QWidget *widget : window.findChildren<QWidget *>()) {
        if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
        const QString kind = widget->metaObject()->className();
        if (kind == "QLabel" || kind.contains("ScrollArea") || kind.contains("Splitter")) continue;
        if (saidOf(widget).trimmed().isEmpty()) names << kind + " " + widget->objectName();
    }
    return names;
}

} // namespace

TEST(Accessibility, WhatTakesTheFocusSaysWhatItIs)
{
    Desk desk;
    EXPECT_THAT(silent(desk.window()).join(", ").toStdString(), "") << "the first page";
    desk.openDemo();
    for (int sheet = 0; sheet < int(desk.bench().document().sheets.size()); ++sheet) {
        desk.bench().showSheet(sheet);
        EXPECT_TRUE(desk.drawn());
        EXPECT_THAT(silent(desk.window()).join(", ").toStdString(), "")
            << desk.bench().document().sheets[std::size_t(sheet)].title;
    }
    using Kind = Selection::Kind;
    for (const Selection &what : {Selection{Kind::capture, "before"},
                                  {Kind::channel, "link"},
                                  {Kind::clock, "loop"},
                                  {Kind::eye, "eye"},
                                  {Kind::mask, "mask"},
                                  {Kind::measurement, "tr"},
                                  {Kind::budget, "link_jitter"},
                                  {Kind::phaseNoise, "clock_noise"},
                                  {Kind::region, "window"}}) {
        desk.bench().select(what);
        EXPECT_TRUE(desk.drawn());
        EXPECT_THAT(silent(desk.window()).join(", ").toStdString(), "") << what.id;
    }
    desk.window().layOutReport(true);
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().pages().busy(); }));
    EXPECT_THAT(silent(desk.window()).join(", ").toStdString(), "") << "the report's page";
    desk.window().layOutReport(false);
    desk.key(Qt::Key_Comma, Qt::ControlModifier);
    desk.key(Qt::Key_F1, Qt::NoModifier);
    EXPECT_THAT(silent(desk.window()).join(", ").toStdString(), "") << "settings, manual";
}

TEST(Accessibility, TilesAndTablesHaveTheirRoles)
{
    Desk desk;
    desk.openDemo();
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.drawn());
    QAccessibleInterface *table = QAccessible::queryAccessibleInterface(desk.find<QTableView>("ledgerTable"));
    ASSERT_TRUE(table);
    EXPECT_EQ(table->role(), QAccessible::Table);
    ASSERT_TRUE(table->tableInterface());
    EXPECT_GT(table->tableInterface()->rowCount(), 20);
    QAccessibleInterface *eye = QAccessible::queryAccessibleInterface(desk.find<QWidget>("eyeTile"));
    ASSERT_TRUE(eye);
    EXPECT_EQ(eye->role(), QAccessible::Graphic);
    EXPECT_THAT(eye->text(QAccessible::Name).toStdString(), testing::HasSubstr("719 UI"))
        << "and how many unit intervals";
    QAccessibleInterface *chain = QAccessible::queryAccessibleInterface(desk.find<QWidget>("chainRails"));
    ASSERT_TRUE(chain);
    desk.bench().select({Selection::Kind::clock, "loop"});
    EXPECT_THAT(chain->text(QAccessible::Value).toStdString() + chain->text(QAccessible::Description).toStdString(),
                testing::HasSubstr("loop"));
}

TEST(Accessibility, EveryButtonSaysWhatItDoesAndItsKey)
{
    Desk desk;
    QStringList bare;
    const auto look = [&](const QString &where) {
        EXPECT_TRUE(desk.drawn());
        for (QAbstractButton *button : desk.window().findChildren<QAbstractButton *>()) {
            if (!button->isVisible() || !button->toolTip().isEmpty() || !button->focusPolicy()) continue;
            if (button->objectName().startsWith("Scroll") || !button->accessibleName().isEmpty())
                continue; // of tabs; beside its label
            const QString words = button->text().remove('&');
            if (words.split(' ', Qt::SkipEmptyParts).size() < 2)
                bare << where + ": " + button->objectName() + " \"" + words + "\"";
        }
        // A key that is on a button stands in its tip as well.
        for (QPushButton *button : desk.window().findChildren<QPushButton *>())
            if (button->isVisible() && !button->shortcut().isEmpty() &&
                !button->toolTip().contains(button->shortcut().toString()))
                bare << where + ": " + button->objectName() + " hides " + button->shortcut().toString();
    };
    look("first page");
    desk.openDemo();
    using Kind = Selection::Kind;
    for (const Selection &what : {Selection{Kind::capture, "before"},
                                  {Kind::clock, "loop"},
                                  {Kind::eye, "eye"},
                                  {Kind::mask, "mask"},
                                  {Kind::measurement, "tr"},
                                  {Kind::budget, "link_jitter"},
                                  {Kind::phaseNoise, "clock_noise"}}) {
        desk.bench().select(what);
        look(QString::fromStdString(what.id));
    }
    desk.window().layOutReport(true);
    look("report");
    EXPECT_THAT(bare.join("\n").toStdString(), "");
}

TEST(Accessibility, WordsStandOutOfTheirGround)
{
    for (const Look *look : {&Look::light(), &Look::darkLook(), &Look::onPaper()}) {
        for (const QColor &ground : {look->paper, look->panel, look->tile, look->accentWash})
            for (const QColor &words : {look->ink, look->quiet, look->pass, look->fail, look->words(look->accent)})
                EXPECT_GE(contrast(words, ground), leastContrast)
                    << words.name().toStdString() << " on " << ground.name().toStdString()
                    << (look->dark ? ", dark" : "");
        for (int ink = 0; ink < 8; ++ink) {
            EXPECT_GE(contrast(look->words(look->trace(ink)), look->tile), leastContrast) << ink;
            EXPECT_GE(contrast(look->trace(ink), look->tile), 3) << "a line, WCAG 2.1, 1.4.11: " << ink;
        }
    }
}

TEST(Accessibility, ThePairedLegIsDashedWhereBothLieOverEachOther)
{
    Desk desk;
    desk.openDemo();
    const auto dashOf = [&](bool lanes, const std::string &id) {
        TileEntry tile;
        tile.kind = "traces";
        tile.of = {"p", "n", "link"};
        tile.lanes = lanes;
        const TraceFigure figure = traceFigure(*desk.bench().results(), desk.bench().document(), tile, 0, 1e-7);
        return figure.lines[std::size_t(figure.lineOf(id))].dash;
    };
    EXPECT_EQ(dashOf(false, "p"), 0);
    EXPECT_GT(dashOf(false, "n"), 0);
    EXPECT_EQ(dashOf(false, "link"), 0);
    EXPECT_EQ(dashOf(true, "n"), 0) << "a lane of its own tells it apart";
}

// From a file to the report without a mouse.
TEST(Accessibility, TheWholeJobIsDoneByKeyboardAlone)
{
    const test::TemporaryFolder folder;
    Desk desk;
    const auto key = [&](Qt::Key which, Qt::KeyboardModifiers with = Qt::NoModifier) {
        desk.window().activateWindow();
        (void)QTest::qWaitForWindowActive(&desk.window());
        QWidget *at = QApplication::focusWidget();
        QTest::keyClick(at ? at : &desk.window(), which, with);
    };
    const auto type = [&](const QString &words) { QTest::keyClicks(QApplication::focusWidget(), words); };
    const auto ask = [&](const QString &words) {
        key(Qt::Key_Space, Qt::ControlModifier);
        ASSERT_TRUE(qobject_cast<QLineEdit *>(QApplication::focusWidget()));
        type(words);
        key(Qt::Key_Return);
    };
    // In, as it was understood.
    desk.answer(QString(FULVEX_DEMO) + "/captures/camera-link.csv");
    key(Qt::Key_O, Qt::ControlModifier);
    ASSERT_TRUE(desk.importShown());
    key(Qt::Key_Return);
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().channels.size(), 3U) << "two legs and their difference";
    const std::string difference = desk.bench().document().channels.back().id;
    // A clock whose bandwidth is typed, an eye, a mask, rows, a limit.
    ask("loop " + QString::fromStdString(difference));
    ASSERT_TRUE(desk.settled());
    auto *bandwidth = desk.find<QLineEdit>("bandwidth");
    ASSERT_TRUE(bandwidth);
    key(Qt::Key_1, Qt::AltModifier); // the Chain
    for (int i = 0; i < 60 && QApplication::focusWidget() != bandwidth; ++i) key(Qt::Key_Tab);
    ASSERT_EQ(QApplication::focusWidget(), bandwidth) << "Tab leads into the Inspector";
    key(Qt::Key_A, Qt::ControlModifier);
    type("1.5M");
    key(Qt::Key_Return);
    key(Qt::Key_E, Qt::ControlModifier);
    ASSERT_TRUE(desk.settled());
    ask("mask brackwater");
    ask("rise " + QString::fromStdString(difference));
    ASSERT_TRUE(desk.settled());
    ASSERT_EQ(desk.bench().document().eyes.size(), 1U);
    ASSERT_EQ(desk.bench().document().masks.size(), 1U);
    key(Qt::Key_2, Qt::AltModifier); // the Ledger
    auto *ledger = desk.find<QTableView>("ledgerTable");
    ASSERT_EQ(QApplication::focusWidget(), ledger);
    int row = 0; // below masks and eyes
    while (row < ledger->model()->rowCount() && !desk.ledgerCell(row, 0).startsWith("rise time")) ++row;
    ASSERT_LT(row, ledger->model()->rowCount());
    key(Qt::Key_Home, Qt::ControlModifier);
    while (ledger->currentIndex().row() != row && ledger->currentIndex().row() + 1 < ledger->model()->rowCount())
        key(Qt::Key_Down);
    key(Qt::Key_F2);
    ASSERT_TRUE(qobject_cast<QLineEdit *>(QApplication::focusWidget())) << "F2 types a limit";
    type("< 600 ps");
    key(Qt::Key_Return);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().measurements.back().limit.max, 600e-12);
    // The worst moment, noted.
    desk.bench().select({Selection::Kind::mask, desk.bench().document().masks.front().id});
    key(Qt::Key_3, Qt::AltModifier); // Evidence
    ASSERT_EQ(QApplication::focusWidget()->objectName(), "evidenceTable");
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QTableView>("evidenceTable")->model()->rowCount() == 1; }));
    key(Qt::Key_Down);
    key(Qt::Key_Home);
    desk.answer("the dented bit");
    key(Qt::Key_N);
    ASSERT_EQ(desk.bench().document().notes.size(), 1U);
    // Out.
    desk.answer(QString::fromStdString(folder / "report.html"));
    key(Qt::Key_R, Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor([&] { return QFileInfo(QString::fromStdString(folder / "report.html")).size() > 0; }));
    desk.answer(QString::fromStdString(folder / "link.fulvex"));
    key(Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor(
        [&] { return desk.bench().undoStack().isClean() && desk.bench().path().endsWith("link.fulvex"); }));
}

TEST(Sizes, LimitsAndVerdictsStayInSightInASmallWindow)
{
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1920, 1080)}) {
        Desk desk(size);
        desk.openDemo();
        QTest::qWait(50);
        auto *table = desk.find<QTableView>("ledgerTable");
        const QHeaderView *header = table->horizontalHeader();
        int last = 0;
        for (int column = 0; column < table->model()->columnCount(); ++column)
            if (!table->isColumnHidden(column) &&
                table->model()->headerData(column, Qt::Horizontal).toString() == "verdict")
                last = column;
        ASSERT_GT(last, 0);
        EXPECT_LE(header->sectionViewportPosition(last) + header->fontMetrics().horizontalAdvance("verdict") + 12,
                  table->viewport()->width())
            << size.width();
        EXPECT_EQ(table->isColumnHidden(6), size.width() < 1280)
            << "extremes are left out where there is no room: " << size.width();
    }
}

TEST(Sizes, NothingIsWiderThanASmallWindow)
{
    Desk desk(QSize(1024, 700));
    desk.openDemo();
    for (int sheet = 0; sheet < int(desk.bench().document().sheets.size()); ++sheet) {
        desk.bench().showSheet(sheet);
        EXPECT_TRUE(desk.drawn());
        EXPECT_EQ(desk.window().size(), QSize(1024, 700)) << "it has grown";
        for (const char *name : {"chainRails", "strip", "ledgerTable", "ask"}) {
            const QWidget *widget = desk.find<QWidget>(name);
            const QPoint right = widget->mapTo(&desk.window(), QPoint(widget->width(), 0));
            EXPECT_LE(right.x(), 1024) << name;
        }
    }
}
