// A hand that does anything anywhere, at once or after a while, on the demo in a real window: whatever state the
// results are in, every tile takes what is done to it; what was done is undone and done again by the hundred, to the
// same document and the same numbers. FULVEX_MEDDLING=SEEDS[,STEPS[,FIRST]] runs longer.

#include "action.h"
#include "desktop_support.h"
#include "document_json.h"
#include "engine.h"
#include "program_folders.h"
#include "tile_frame.h"

#include <QPlainTextEdit>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

class Hand {
public:
    explicit Hand(int seed) : m_random(std::uint64_t(seed))
    {
        QObject::connect(&m_desk.bench(), &Workbench::sessionBegun, [this] { m_opened = m_desk.bench().document(); });
        m_desk.openDemo();
        // Nobody answers a dialog or a menu: each is closed.
        QObject::connect(&m_impatience, &QTimer::timeout, [] {
            for (QWidget *open : {QApplication::activePopupWidget(), QApplication::activeModalWidget()})
                if (open) open->close();
        });
        m_impatience.start(30);
    }

    void work(int steps)
    {
        for (int step = 0; step < steps && !testing::Test::HasFailure(); ++step) {
            act();
            m_most = std::max(m_most, m_desk.bench().undoStack().count());
            if (below(3) == 0) QTest::qWait(below(60));
        }
        rest();
        EXPECT_GE(m_most, steps / 40) << "it did happen";
    }

private:
    int below(int bound) { return int(m_random() % std::uint64_t(bound)); }
    QPoint within(const QRect &area)
    {
        return area.topLeft() + QPoint(below(std::max(1, area.width())), below(std::max(1, area.height())));
    }
    template <typename Widget>
    Widget *visible()
    {
        QList<Widget *> all;
        for (Widget *one : m_desk.window().findChildren<Widget *>())
            if (one->isVisible()) all.push_back(one);
        return all.isEmpty() ? nullptr : all[below(int(all.size()))];
    }
    void times(int count, Qt::Key key, Qt::KeyboardModifiers modifiers)
    {
        for (int i = 0; i < count; ++i) m_desk.key(key, modifiers);
    }

    void touchTile()
    {
        auto *tile = visible<TileFrame>();
        if (!tile) return;
        const QPoint at = within(tile->rect());
        const Qt::KeyboardModifiers modifiers[] = {{}, {}, Qt::ShiftModifier, Qt::ControlModifier, Qt::AltModifier};
        const int what = below(10);
        if (what < 4) QTest::mouseClick(tile, Qt::LeftButton, modifiers[below(5)], at);
        if (what == 4) QTest::mouseDClick(tile, Qt::LeftButton, {}, at);
        if (what == 5) QTest::mouseClick(tile, Qt::RightButton, {}, at);
        if (what > 5 && what < 8) {
            const auto held = modifiers[below(5)];
            QTest::mousePress(tile, Qt::LeftButton, held, at);
            for (int i = 0; i < 4; ++i) {
                QTest::mouseMove(tile, within(tile->rect()));
                if (below(3) == 0) QTest::qWait(below(20));
            }
            QTest::mouseRelease(tile, Qt::LeftButton, held, within(tile->rect()));
        }
        if (what == 8) {
            static const Qt::Key keys[] = {Qt::Key_Left, Qt::Key_Right,  Qt::Key_Plus,   Qt::Key_Minus,
                                           Qt::Key_F,    Qt::Key_Return, Qt::Key_Escape, Qt::Key_Delete};
            QTest::keyClick(tile, keys[below(8)]);
        }
        if (what == 9) {
            QWheelEvent turn(at, tile->mapToGlobal(at), {}, {0, below(2) ? 120 : -120}, Qt::NoButton, {},
                             Qt::NoScrollPhase, false);
            QApplication::sendEvent(tile, &turn);
        }
    }

    void dragClock()
    {
        const auto &clocks = m_desk.bench().document().clocks;
        if (clocks.empty()) return;
        m_desk.bench().select({Selection::Kind::clock, clocks[std::size_t(below(int(clocks.size())))].id});
        auto *slider = m_desk.find<QSlider>("bandwidthSlider");
        if (!slider || !slider->isVisible()) return;
        for (int i = below(6); i >= 0; --i) QTest::keyClick(slider, below(2) ? Qt::Key_PageDown : Qt::Key_PageUp);
    }

    void touchTable(const char *name)
    {
        auto *table = m_desk.find<QTableView>(name);
        if (!table || !table->isVisible() || table->model()->rowCount() == 0) return;
        const QModelIndex cell = table->model()->index(below(table->model()->rowCount()), 0);
        table->scrollTo(cell);
        QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, table->visualRect(cell).center());
        if (below(2)) QTest::keyClick(table, below(2) ? Qt::Key_Down : Qt::Key_Up);
    }

    void touchChain()
    {
        static const Qt::Key keys[] = {Qt::Key_Up, Qt::Key_Down, Qt::Key_Down, Qt::Key_Return, Qt::Key_Delete};
        auto *chain = m_desk.find<QWidget>("chainRails");
        QTest::mouseClick(chain, Qt::LeftButton, {}, within(chain->rect()));
        QTest::keyClick(chain, keys[below(5)]);
        if (below(4)) return;
        QTest::keyClick(chain, Qt::Key_F2);
        auto *editor = m_desk.find<QPlainTextEdit>("formulaText");
        if (!editor || !editor->isVisible()) return;
        editor->setPlainText(below(2) ? "p - 0.5 * n" : "p +"); // which is no formula
        if (!below(3)) QTest::keyClick(editor, Qt::Key_P, Qt::ControlModifier);
        QTest::keyClick(editor, below(2) ? Qt::Key_Return : Qt::Key_Escape);
    }

    /// What the menus offer, but for files and help.
    void useMenu()
    {
        const QList<QAction *> bar = m_desk.window().findChild<QMenuBar *>()->actions();
        QMenu *menu = bar[1 + below(int(bar.size()) - 2)]->menu();
        while (menu) {
            emit menu->aboutToShow();
            QList<QAction *> offered;
            for (QAction *entry : menu->actions())
                if (entry->isEnabled() && !entry->isSeparator()) offered.push_back(entry);
            if (offered.isEmpty()) return;
            QAction *taken = offered[below(int(offered.size()))];
            menu = taken->menu();
            if (!menu) taken->trigger();
        }
    }

    /// Any field, list or button that is shown there; what is typed is seldom sensible.
    void touchField(QWidget *area)
    {
        QList<QWidget *> fields;
        for (QWidget *one : area->findChildren<QWidget *>()) {
            const bool field = qobject_cast<QLineEdit *>(one) || qobject_cast<QComboBox *>(one) ||
                               qobject_cast<QAbstractButton *>(one) || qobject_cast<QSlider *>(one);
            if (field && one->isVisible() && one->isEnabled()) fields.push_back(one);
        }
        if (fields.isEmpty()) return;
        QWidget *field = fields[below(int(fields.size()))];
        if (auto *edit = qobject_cast<QLineEdit *>(field)) {
            static const char *const texts[] = {"",     "0",     "-1",    "nan",   "1e400", "1e300",  "5e-324",
                                                "µ",    "10 ns", "2.5 G", "1 MHz", "0,5",   "450 ps", "p",
                                                "a\tb", "=1+1",  "link",  "8",     "1e-9",  "-30 mV"};
            edit->setText(texts[below(20)]);
            QTest::keyClick(edit, below(4) ? Qt::Key_Return : Qt::Key_Escape);
        } else if (qobject_cast<QAbstractButton *>(field)) {
            QTest::mouseClick(field, Qt::LeftButton);
        } else {
            QTest::keyClick(field, below(2) ? Qt::Key_Down : Qt::Key_Up);
        }
    }

    void inspect()
    {
        const Document &document = m_desk.bench().document();
        using Kind = Selection::Kind;
        static const Kind kinds[] = {Kind::capture,  Kind::channel,     Kind::clock,    Kind::eye,  Kind::mask,
                                     Kind::region,   Kind::measurement, Kind::marker,   Kind::note, Kind::nothing,
                                     Kind::spectrum, Kind::program,     Kind::parameter};
        const Kind kind = kinds[below(13)];
        const std::vector<std::string> ids = idsOf(document, kind);
        if (kind == Kind::nothing)
            m_desk.bench().select({});
        else if (!ids.empty())
            m_desk.bench().select({kind, ids[std::size_t(below(int(ids.size())))]});
        for (int i = below(4); i >= 0; --i) touchField(m_desk.find<QWidget>("inspectorScroll"));
    }

    void bringIn()
    {
        auto *page = m_desk.find<QWidget>("importPage");
        if (!page->isVisible()) {
            const QStringList files = QDir(FULVEX_FIXTURES).entryList(QDir::Files);
            QStringList some;
            for (int i = below(3); i >= 0; --i) some << QDir(FULVEX_FIXTURES).filePath(files[below(int(files.size()))]);
            m_desk.drop(some);
        }
        for (int i = below(6); i >= 0; --i) {
            if (below(2)) QTest::qWait(below(40));
            if (page->isVisible()) touchField(page);
        }
    }

    void act()
    {
        const int what = below(130);
        if (what >= 126) return bringIn();
        if (what >= 114) return inspect();
        if (what >= 107) return useMenu();
        if (what >= 100) return touchChain();
        if (what < 50) return touchTile();
        if (what < 60) return dragClock();
        if (what < 66) return touchTable("ledgerTable");
        if (what < 72) return touchTable("evidenceTable");
        if (what < 80) {
            auto *tabs = m_desk.find<QTabBar>("sheetTabs");
            return tabs->setCurrentIndex(below(tabs->count()));
        }
        if (what < 84) return times(1 + below(100), Qt::Key_Z, Qt::ControlModifier);
        if (what < 88) return times(1 + below(100), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        if (what < 92) {
            auto *strip = m_desk.find<QWidget>("strip");
            return test::dragAcross(strip, within(strip->rect()), within(strip->rect()));
        }
        if (what < 95) return m_desk.bench().evaluator().cancel();
        if (what < 98) return m_desk.bench().evaluateAnew();
        m_desk.bench().openProject(QString(FULVEX_DEMO) + "/tests-brackwater.fulvex"); // with no results at first
    }

    /// Once all is quiet.
    void rest()
    {
        Workbench &bench = m_desk.bench();
        auto *page = m_desk.find<QWidget>("importPage");
        ASSERT_TRUE(test::waitFor([&] {
            if (page->isVisible()) QTest::mouseClick(m_desk.find<QWidget>("importLeave"), Qt::LeftButton);
            return !page->isVisible() && !bench.errands().busy();
        }));
        bench.evaluate(); // it may have been cancelled
        ASSERT_TRUE(m_desk.settled());
        std::vector<std::string> tiles, shown;
        for (const TileEntry &tile : bench.document().sheets[std::size_t(bench.sheet())].tiles)
            tiles.push_back(tile.id);
        for (const auto *tile : m_desk.window().findChildren<TileFrame *>()) {
            if (tile->isVisibleTo(&m_desk.window())) shown.push_back(tile->id());
        }
        std::sort(tiles.begin(), tiles.end());
        std::sort(shown.begin(), shown.end());
        EXPECT_TRUE(shown == tiles || shown.size() == 1) << "all of them, or one made large";
        const Document done = bench.document();
        const int steps = bench.undoStack().index();
        EXPECT_EQ(parseDocument(documentText(done), "again"), done);
        while (bench.undoStack().canUndo()) m_desk.key(Qt::Key_Z, Qt::ControlModifier);
        EXPECT_EQ(documentText(bench.document()), documentText(m_opened));
        while (bench.undoStack().index() < steps) m_desk.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        EXPECT_EQ(documentText(bench.document()), documentText(done));
        ASSERT_TRUE(m_desk.settled());
        Progress progress;
        Engine fresh(shareFolder() / "masks");
        const Results truth = fresh.evaluate(bench.document(), bench.base(), {}, progress);
        ASSERT_EQ(bench.results()->rows.size(), truth.rows.size());
        for (std::size_t i = 0; i < truth.rows.size(); ++i) {
            const Row &row = bench.results()->rows[i], &again = truth.rows[i];
            EXPECT_EQ(row.reason, again.reason) << again.id;
            if (!again.measurable()) continue;
            EXPECT_EQ(row.statistics.count, again.statistics.count) << again.id;
            EXPECT_EQ(row.statistics.mean, again.statistics.mean) << again.id;
        }
    }

    std::mt19937_64 m_random;
    Desk m_desk;
    Document m_opened;
    int m_most = 0; ///< steps that could be undone at a time
    QTimer m_impatience;
};

} // namespace

TEST(Meddling, LosesNothingAndComesBackByUndo)
{
    int seeds = 2, steps = 150, first = 1;
    if (const char *longer = std::getenv("FULVEX_MEDDLING")) std::sscanf(longer, "%d,%d,%d", &seeds, &steps, &first);
    for (int seed = first; seed < first + seeds && !HasFailure(); ++seed) {
        SCOPED_TRACE("seed " + std::to_string(seed));
        Hand(seed).work(steps);
    }
}
