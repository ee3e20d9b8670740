// The manual in place, the terms where they stand, and questions that lead to both.

#include "action_menus.h"
#include "ask_box.h"
#include "desktop_support.h"
#include "manual_index.h"
#include "manual_window.h"
#include "quantity_table.h"
#include "terms.h"
#include "tile_kinds.h"

#include <QFile>
#include <QFileInfo>
#include <QMenuBar>
#include <QRegularExpression>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
using testing::HasSubstr;

namespace {

ManualWindow *manualOf(Desk &desk)
{
    return desk.find<ManualWindow>("manual");
}

void leave(Desk &desk)
{
    manualOf(desk)->close();
    // Off screen there is nobody who makes the window behind the active one again.
    EXPECT_TRUE(test::waitFor([&] {
        desk.window().raise();
        desk.window().activateWindow();
        return desk.window().isActiveWindow();
    }));
}

/// All that the menus offer, whatever is chosen: "Channel > Add a channel by formula…".
QStringList offered(Desk &desk)
{
    QStringList all;
    const std::function<void(QMenu *, const QString &)> read = [&](QMenu *menu, const QString &path) {
        emit menu->aboutToShow();
        for (QAction *action : menu->actions()) {
            const QString words = path + " > " + action->text().section('\t', 0, 0);
            all << words;
            if (action->menu()) read(action->menu(), words);
        }
    };
    const Document document = desk.bench().document();
    const auto readAll = [&](Selection::Kind kind, const std::string &id) {
        desk.bench().select({kind, id});
        for (QAction *title : desk.window().findChild<QMenuBar *>()->actions()) read(title->menu(), title->text());
    };
    readAll(Selection::Kind::capture, document.captures.front().id);
    readAll(Selection::Kind::channel, document.channels.back().id);
    readAll(Selection::Kind::eye, document.eyes.front().id);
    readAll(Selection::Kind::measurement, document.measurements.front().id);
    return all;
}

bool has(const QString &place)
{
    return std::ranges::any_of(manualSections(),
                               [&](const ManualSection &section) { return section.place() == place; });
}

} // namespace

TEST(Manual, EveryLinkAndPictureOfItLeadsSomewhere)
{
    ASSERT_GT(manualSections().size(), 100U);
    static const QRegularExpression link("\\]\\(([^)]+)\\)");
    int links = 0, pictures = 0;
    for (const auto &[name, title] : manualFiles()) {
        QFile file(manualFolder() + "/" + name);
        ASSERT_TRUE(file.open(QIODevice::ReadOnly)) << name.toStdString();
        const QString words = QString::fromUtf8(file.readAll());
        for (auto each = link.globalMatch(words); each.hasNext();) {
            const QString to = each.next().captured(1);
            if (to.startsWith("http") || to == "#sheet_id") continue; // as an example
            if (to.endsWith(".png")) {
                EXPECT_TRUE(QFileInfo(manualFolder() + "/" + to).isFile()) << name.toStdString() << to.toStdString();
                ++pictures;
                continue;
            }
            const QString page = to.section('#', 0, 0).isEmpty() ? name : to.section('#', 0, 0);
            EXPECT_TRUE(to.contains('#') ? has(page + "#" + to.section('#', 1))
                                         : QFileInfo(manualFolder() + "/" + page).isFile())
                << name.toStdString() << " leads to " << to.toStdString();
            ++links;
        }
    }
    EXPECT_GT(links, 15);
    EXPECT_GT(pictures, 20);
}

TEST(Manual, NamesMenusAndKeysAsTheyAre)
{
    Desk desk;
    desk.openDemo();
    ASSERT_TRUE(desk.settled());
    const QStringList all = offered(desk);
    static const QRegularExpression inMenu("\\*([A-Z][a-z]+ > [^*]+)\\*"), row("^\\| ([^|]+) \\| [^|]+ \\|$");
    int menus = 0, keys = 0;
    QStringList known;
    for (const ActionMenus::Line &line : desk.window().findChild<ActionMenus *>()->lines()) known << line.key;
    for (const auto &[name, title] : manualFiles()) {
        QFile file(manualFolder() + "/" + name);
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        QString words = QString::fromUtf8(file.readAll());
        const QString table = words.section("\n## Keys\n", 1).section("\n## ", 0, 0);
        for (auto each = inMenu.globalMatch(words.replace('\n', ' ')); each.hasNext(); ++menus) {
            const QStringList parts = each.next().captured(1).split("…", Qt::SkipEmptyParts);
            const bool found = std::ranges::any_of(all, [&](const QString &one) {
                return std::ranges::all_of(parts, [&](const QString &part) { return one.contains(part.trimmed()); });
            });
            EXPECT_TRUE(found) << name.toStdString() << ": " << parts.join("…").toStdString();
        }
        for (const QString &line : table.split('\n')) {
            const auto match = row.match(line);
            for (const QString &key : match.captured(1).split(", ", Qt::SkipEmptyParts)) {
                if (key == "key") continue;
                EXPECT_TRUE(known.contains(key)) << name.toStdString() << ": " << key.toStdString();
                ++keys;
            }
        }
    }
    EXPECT_GT(menus, 10);
    EXPECT_GT(keys, 35);
}

TEST(Manual, F1OpensTheChapterOfWhatOneIsAt)
{
    Desk desk;
    desk.key(Qt::Key_F1, Qt::NoModifier);
    ASSERT_TRUE(manualOf(desk));
    EXPECT_TRUE(manualOf(desk)->isVisible());
    EXPECT_EQ(manualOf(desk)->page()->place().toStdString(), "guide.md#the-first-hour");
    desk.openDemo();
    const std::pair<Selection, const char *> chapters[] = {
        {{Selection::Kind::clock, "loop"}, "guide.md#clocks-and-eyes"},
        {{Selection::Kind::mask, "mask"}, "guide.md#masks"},
        {{Selection::Kind::budget, "link_jitter"}, "guide.md#jitter"},
        {{Selection::Kind::channel, "p"}, "guide.md#deriving-channels"}};
    for (const auto &[what, place] : chapters) {
        EXPECT_TRUE(has(place)) << place;
        leave(desk);
        desk.find<QWidget>("chainRails")->setFocus();
        desk.bench().select(what);
        desk.key(Qt::Key_F1, Qt::NoModifier);
        EXPECT_EQ(manualOf(desk)->page()->place().toStdString(), place);
    }
    leave(desk);
    desk.bench().select({Selection::Kind::mask, "mask"});
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QWidget>("evidenceTable")->isVisible(); }));
    desk.find<QWidget>("evidenceTable")->setFocus();
    desk.key(Qt::Key_F1, Qt::NoModifier);
    EXPECT_EQ(manualOf(desk)->page()->place().toStdString(), "guide.md#evidence");
    EXPECT_EQ(manualOf(desk)->page()->heading().toStdString(), "Evidence");
    leave(desk);
    desk.showSheet("Link eye");
    ASSERT_TRUE(desk.drawn());
    for (QWidget *tile : desk.window().findChildren<QWidget *>("eyeTile"))
        if (tile->isVisible()) tile->setFocus();
    desk.key(Qt::Key_F1, Qt::NoModifier);
    EXPECT_EQ(manualOf(desk)->page()->place().toStdString(), "terms.md#eye");
}

TEST(Manual, IsSearchedReadAndGoneBackIn)
{
    Desk desk;
    desk.ask("manual");
    ASSERT_TRUE(manualOf(desk));
    auto *search = desk.find<QLineEdit>("manualSearch");
    auto *found = desk.find<QTreeWidget>("manualFound");
    ManualPage *page = manualOf(desk)->page();
    QTest::keyClicks(search, "how do I compare two results?");
    ASSERT_TRUE(found->isVisible());
    EXPECT_EQ(found->topLevelItem(0)->text(0), "Comparing");
    QTest::keyClick(search, Qt::Key_Return);
    EXPECT_EQ(page->place().toStdString(), "guide.md#comparing");
    EXPECT_EQ(page->heading().toStdString(), "Comparing");
    search->clear();
    QTest::keyClicks(search, "qqqq");
    EXPECT_THAT(found->topLevelItem(0)->text(0).toStdString(), HasSubstr("Nothing"));
    emit page->anchorClicked(QUrl("terms.md#eye-height"));
    EXPECT_EQ(page->heading().toStdString(), "Eye height");
    EXPECT_TRUE(page->goBack());
    EXPECT_EQ(page->place().toStdString(), "guide.md#comparing");
    emit page->anchorClicked(QUrl("../../etc/passwd"));
    EXPECT_THAT(page->toPlainText().toStdString(), HasSubstr("no part of the installed manual"));
    QTest::keyClick(manualOf(desk), Qt::Key_Escape); // what was searched
    QTest::keyClick(manualOf(desk), Qt::Key_Escape);
    EXPECT_FALSE(manualOf(desk)->isVisible());
}

TEST(Manual, QuestionsLeadToActionsAndChapters)
{
    Desk desk;
    desk.openDemo();
    auto *box = desk.find<AskBox>("ask");
    const auto offers = [&](const QString &words) {
        box->clear();
        box->setFocus();
        QTest::keyClicks(box, words);
        std::vector<std::string> all;
        for (int row = 0; row < box->list()->count(); ++row)
            all.push_back(box->list()->item(row)->text().toStdString());
        return all;
    };
    EXPECT_THAT(offers("how do i count bit errors"), testing::Contains(HasSubstr("bit error")));
    EXPECT_THAT(offers("how do i count bit errors"), testing::Contains("Manual: Bits and their errors"));
    EXPECT_THAT(offers("what is phase noise?"), testing::Contains("Manual: Phase noise"));
    EXPECT_THAT(offers("how do I leave a capture out of a run"), testing::Contains("Manual: Runs of captures"));
    EXPECT_THAT(offers("hysteresis"), testing::Contains("Manual: Hysteresis")) << "no action has it";
    offers("what is a bathtub");
    QTest::keyClick(box, Qt::Key_Down);
    for (int row = 0; row < box->list()->count(); ++row)
        if (box->list()->item(row)->text() == "Manual: Bathtub") box->list()->setCurrentRow(row);
    QTest::keyClick(box, Qt::Key_Return);
    ASSERT_TRUE(manualOf(desk));
    EXPECT_EQ(manualOf(desk)->page()->place().toStdString(), "terms.md#bathtub");
}

TEST(Terms, ExplainEveryQuantityAndPicture)
{
    for (const QuantityGroup &group : quantityGroups())
        for (const Quantity &quantity : group.quantities) {
            const Term *term = termOf(quantity.name);
            ASSERT_TRUE(term) << quantity.name;
            EXPECT_GT(term->words.size(), 60) << quantity.name << ": what it is, why, what it depends on";
            EXPECT_TRUE(has(term->place())) << term->title.toStdString();
        }
    for (const TileKind &kind : tileKinds()) {
        const std::string name = kind.kind;
        const bool plain =
            name == "traces" || name == "words" || name == "plan" || name.starts_with("compared") || name == "spectrum";
        EXPECT_TRUE(plain || termOf("tile." + name)) << name;
    }
}

TEST(Terms, StandAtTheRowsAndSettingsTheyExplain)
{
    Desk desk;
    desk.openDemo();
    auto *table = desk.find<QTableView>("ledgerTable");
    const int row = desk.ledgerRow("eye height", "eye");
    ASSERT_GE(row, 0);
    EXPECT_THAT(table->model()->index(row, 0).data(Qt::ToolTipRole).toString().toStdString(),
                HasSubstr("One level less three of its sigmas"));
    desk.bench().select({Selection::Kind::clock, "loop"});
    ASSERT_TRUE(desk.drawn());
    QLabel *label = nullptr;
    for (QLabel *each : desk.window().findChildren<QLabel *>())
        if (each->isVisible() && each->property(manualProperty).toString() == "terms.md#loop-bandwidth") label = each;
    ASSERT_TRUE(label);
    EXPECT_THAT(label->toolTip().toStdString(), HasSubstr("Up to which frequency a loop follows jitter"));
}

TEST(Terms, ExplainNothingThatIsNotThere)
{
    std::set<std::string> known{"ledger.count", "ledger.uncertainty", "ledger.limit", "ledger.verdict", "mask"};
    for (const QuantityGroup &group : quantityGroups())
        for (const Quantity &quantity : group.quantities) known.insert(quantity.name);
    for (const TileKind &kind : tileKinds()) known.insert(std::string("tile.") + kind.kind);
    const auto add = [&](const char *kind, auto entry) {
        for (const Field &field : fieldsOf(entry))
            if (*field.words)
                known.insert(std::string(kind) + "." + (*field.group ? std::string(field.group) + "_" : "") +
                             field.key);
    };
    EyeEntry overlay;
    overlay.each = "edge";
    add("capture", CaptureEntry());
    add("channel", ChannelEntry());
    add("region", RegionEntry());
    add("levels", LevelsEntry());
    add("clock", ClockEntry());
    add("eye", EyeEntry());
    add("eye", overlay);
    add("mask", MaskEntry());
    add("measurement", MeasurementEntry());
    add("spectrum", SpectrumEntry());
    add("budget", BudgetEntry());
    add("phase_noise", PhaseNoiseEntry());
    add("tile", TileEntry());
    known.insert("*.levels");
    for (const Term &term : allTerms())
        for (const QString &key : term.keys) EXPECT_TRUE(known.contains(key.toStdString())) << key.toStdString();
}
