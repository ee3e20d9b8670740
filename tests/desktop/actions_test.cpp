// The table of actions, as menus, keys, context menus and the list of keys show it.

#include "action_menus.h"
#include "desktop_support.h"
#include "project_actions.h"
#include "sheet_actions.h"

#include <QTableWidget>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <set>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

/// Words of a menu's entries, those of submenus as "Title/words"; switched off ones in brackets.
QStringList entriesOf(QMenu *menu)
{
    QStringList words;
    for (QAction *entry : menu->actions()) {
        if (entry->isSeparator()) continue;
        const QString own = entry->text().section('\t', 0, 0);
        if (entry->menu()) {
            for (const QString &inner : entriesOf(entry->menu())) words << own + "/" + inner;
        } else {
            words << (entry->isEnabled() ? own : "(" + own + ")");
        }
    }
    return words;
}

/// Opens a menu of the bar and tells what is in it.
QStringList menu(Desk &desk, const QString &title)
{
    for (QAction *top : desk.window().findChild<QMenuBar *>()->actions()) {
        if (top->text() != title) continue;
        emit top->menu()->aboutToShow();
        return entriesOf(top->menu());
    }
    return {};
}

/// What a right click shows; takes the entry of those words, or none.
QStringList contextMenu(QWidget *widget, QPoint at, const QString &take = {})
{
    QStringList words;
    QTimer::singleShot(0, [&] {
        auto *open = qobject_cast<QMenu *>(QApplication::activePopupWidget());
        if (!open) return;
        words = entriesOf(open);
        for (QAction *entry : open->actions())
            if (!take.isEmpty() && entry->text().startsWith(take)) entry->trigger();
        open->close();
    });
    QContextMenuEvent event(QContextMenuEvent::Mouse, at, widget->mapToGlobal(at));
    QApplication::sendEvent(widget, &event);
    return words;
}

} // namespace

TEST(Actions, EachIsSaidOnceAndEachKeyDoesOneThing)
{
    Desk desk;
    desk.openDemo();
    std::set<QString> ids, words;
    std::vector<Action> all = projectActions(desk.bench());
    for (const Action &action : tileActions(desk.bench())) all.push_back(action);
    EXPECT_GT(all.size(), 60u);
    for (const Action &action : all) {
        EXPECT_TRUE(ids.insert(action.id).second) << action.id.toStdString();
        EXPECT_TRUE(words.insert(action.words).second) << action.words.toStdString();
        EXPECT_TRUE(action.act) << action.id.toStdString();
        EXPECT_EQ(action.on != Selection::Kind::nothing || !action.words.contains('%'), true)
            << action.id.toStdString();
        EXPECT_TRUE(action.menu.isEmpty() || !action.menu.contains('/') || !action.brief.isEmpty());
    }
    std::set<QString> keys;
    for (const QAction *key : desk.window().actions())
        EXPECT_TRUE(keys.insert(key->shortcut().toString()).second) << key->shortcut().toString().toStdString();
    EXPECT_GE(keys.size(), 28u);
}

TEST(Actions, MenusSayWhatTheyActOnAndWhatCannotBeDone)
{
    Desk desk;
    desk.openDemo();
    EXPECT_THAT(menu(desk, "Edit"), testing::Contains(QString("(Undo)")));
    desk.bench().select({Selection::Kind::clock, "loop"});
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("Add an eye of link by loop")));
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("Add a loop clock on link")));
    EXPECT_THAT(menu(desk, "Channel"),
                testing::Contains(testing::ResultOf(
                    [](const QString &words) { return words.startsWith("Test eye against"); }, testing::IsTrue())));
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("Align link to/(p by edges)")));
    EXPECT_THAT(menu(desk, "Measure"), testing::Contains(QString("Add quantities of link…")));
    desk.bench().change("region", [](Document &document) { document.regions.push_back({"start_up", 1e-6, 2e-6}); });
    EXPECT_THAT(menu(desk, "View"), testing::Contains(QString("Go to region/start_up")));
    desk.bench().select({Selection::Kind::channel, "n"});
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("Add a loop clock on n")));
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("Align n to/p by edges")));
    desk.key(Qt::Key_L, Qt::ControlModifier);
    EXPECT_EQ(desk.bench().document().clocks.back().source, "n");
    EXPECT_THAT(menu(desk, "Edit"), testing::Contains(QString("Undo")));
    desk.bench().undoStack().clear();
}

TEST(Actions, WithNothingToActOnSayWhatIsMissing)
{
    Desk desk;
    EXPECT_THAT(menu(desk, "Channel"), testing::Contains(QString("(Add an eye of its channel by clock)")));
    desk.key(Qt::Key_E, Qt::ControlModifier);
    EXPECT_EQ(desk.message(), "There is no clock to do that with: add one first.");
    desk.key(Qt::Key_L, Qt::ControlModifier);
    EXPECT_EQ(desk.message(), "There is no channel to do that with: add one first.");
    for (const char *title : {"File", "Edit", "View", "Capture", "Channel", "Measure", "Sheet", "Help"})
        EXPECT_FALSE(menu(desk, title).isEmpty()) << title;
}

TEST(Actions, ARightClickOffersWhatCanBeDoneWithWhatIsThere)
{
    Desk desk;
    desk.openDemo();
    // A row of the Ledger.
    auto *ledger = desk.find<QTableView>("ledgerTable");
    const QRect first = ledger->visualRect(ledger->model()->index(0, 0));
    const auto ofRow = contextMenu(ledger->viewport(), first.center());
    EXPECT_THAT(ofRow, testing::ElementsAre(QString("Add the averaged spectrum of rise time of link"),
                                            QString("Add a histogram of rise time of link"),
                                            QString("Add a trend of rise time of link"),
                                            QString("Add the spectrum of the trend of rise time of link"),
                                            QString("Add rise time of link against another row"),
                                            QString("Remove the measurement rise time of link"),
                                            QString("Write the population of rise time of link…"),
                                            QString("Write the histogram of rise time of link…")));
    // A tile, and a tab.
    auto *trace = desk.find<QWidget>("traceTile");
    const bool lanes = desk.bench().document().sheets[0].tiles[0].lanes;
    const auto ofTile = contextMenu(trace, trace->rect().center(), "One lane a channel");
    EXPECT_THAT(ofTile,
                testing::IsSupersetOf({QString("One lane a channel"), QString("A view of its own"),
                                       QString("Copy picture of the traces of p"), QString("Channels of a tile/p")}));
    EXPECT_NE(desk.bench().document().sheets[0].tiles[0].lanes, lanes);
    auto *tabs = desk.find<QTabBar>("sheetTabs");
    const std::string second = desk.bench().document().sheets[1].title;
    const auto ofTab = contextMenu(tabs, tabs->tabRect(1).center(), "Remove the sheet");
    EXPECT_THAT(ofTab, testing::Contains("Duplicate the sheet " + QString::fromStdString(second)));
    EXPECT_NE(desk.bench().document().sheets[1].title, second);
    // An entry of the Chain, whatever is selected besides.
    desk.bench().select({Selection::Kind::channel, "n"});
    QWidget *rails = QApplication::focusWidget();
    for (QWidget *widget : desk.window().findChildren<QWidget *>())
        if (widget->inherits("fulvex::ChainRails")) rails = widget;
    const auto ofChannel = contextMenu(rails, {20, 20});
    EXPECT_THAT(ofChannel, testing::IsSupersetOf({QString("Add a loop clock on n"), QString("Add quantities of n…"),
                                                  QString("Align n to/p by edges"), QString("Remove the channel n")}));
    for (const QString &words : ofChannel) EXPECT_FALSE(words.startsWith("(")) << words.toStdString();
    desk.bench().undoStack().clear();
}

TEST(Actions, TheListOfKeysIsSearched)
{
    Desk desk;
    desk.key(Qt::Key_F1, Qt::ShiftModifier);
    auto *table = desk.window().findChild<QTableWidget *>("keysTable");
    ASSERT_TRUE(table);
    const auto shown = [&] {
        int rows = 0;
        for (int row = 0; row < table->rowCount(); ++row) rows += !table->isRowHidden(row);
        return rows;
    };
    EXPECT_GT(shown(), 45);
    QTest::keyClicks(desk.window().findChild<QLineEdit *>("keysSearch"), "ctrl+e");
    EXPECT_EQ(shown(), 1);
    for (int row = 0; row < table->rowCount(); ++row) {
        if (table->isRowHidden(row)) continue;
        EXPECT_EQ(table->item(row, 1)->text(), "Add an eye of its channel by the chosen clock");
    }
}
