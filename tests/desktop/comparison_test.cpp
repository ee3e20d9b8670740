// This project beside another result: what is set differently is named, and set alike; numbers, eyes and spectra lie
// side by side.

#include "comparison_tile.h"
#include "desktop_support.h"
#include "npy_files.h"
#include "results_json.h"
#include "temporary_folder.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QLineEdit>
#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;
using testing::HasSubstr;

namespace {

/// A link before and after its board was changed: two projects, of which the later one has other levels for rise times.
struct Boards {
    Boards()
    {
        write("before", 1, 20, 80, "1.5e6");
        write("after", 2, 10, 90, "1.5e6");
    }
    void write(const std::string &name, std::uint64_t seed, int low, int high, const std::string &bandwidth) const
    {
        test::DataSpec spec;
        spec.unitIntervals = 3000;
        spec.samplesPerUi = 8;
        spec.noise = 0.006;
        spec.seed = seed;
        test::writeNpy(folder / (name + ".npy"), test::makeData(spec).volts);
        folder.write(name + ".fulvex", R"({"fulvex": 1, "title": ")" + name + R"(",
            "captures": [{"id": "r", "file": ")" +
                                           name + R"(.npy", "import": {"sample_interval": 1e-10}}],
            "channels": [{"id": "link", "capture": "r", "unit": "V"}],
            "levels": [{"id": "fine", "kind": "percent", "low": )" +
                                           std::to_string(low) + R"(, "mid": 50, "high": )" + std::to_string(high) +
                                           R"(, "states": "histogram"}],
            "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": )" +
                                           bandwidth + R"(}],
            "eyes": [{"id": "eye1", "source": "link", "clock": "loop"}],
            "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x"}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "link", "levels": "fine"},
                             {"id": "tie", "quantity": "time_interval_error", "source": "link", "clock": "loop"},
                             {"id": "amp", "quantity": "amplitude", "source": "link"}],
            "sheets": [{"id": "s", "title": "Link", "tiles": [{"kind": "eye", "of": ["eye1"], "row": 0, "column": 0}]}]})");
    }
    test::TemporaryFolder folder;
};

struct BoardsDesk : Boards, Desk {
    BoardsDesk() { open("after.fulvex"); }
    void open(const char *project)
    {
        window().openFiles({QString::fromStdString(folder / project)});
        EXPECT_TRUE(settled());
    }
    /// Chosen in the dialog that Ctrl+B opens.
    void layBeside(const QString &file)
    {
        chooseFile(QString::fromStdString(folder.path().string()) + "/" + file);
        key(Qt::Key_B, Qt::ControlModifier);
    }
    /// Waits until what is seen is of the present numbers.
    bool compared()
    {
        return settled() && test::waitFor([&] {
                   const Compared *known = bench().comparedWith("beside");
                   return known && known->found && known->own == bench().sharedResults();
               });
    }
    QString cell(const char *table, int row, int column)
    {
        return find<QTableView>(table)->model()->index(row, column).data().toString();
    }
    int rows(const char *table) { return find<QTableView>(table)->model()->rowCount(); }
    int rowOf(const QString &begin)
    {
        for (int row = 0; row < rows("comparedNumbers"); ++row)
            if (cell("comparedNumbers", row, 0).startsWith(begin)) return row;
        return -1;
    }
};

} // namespace

TEST(Comparison, NamesTheLevelsAsTheCulpritAndSetsThemAlike)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.bench().document().sheets.back().title, "Beside before");
    ASSERT_EQ(desk.rows("comparedSettings"), 2);
    EXPECT_EQ(desk.cell("comparedSettings", 0, 0), "low of fine");
    EXPECT_EQ(desk.cell("comparedSettings", 0, 1), "20.0 %");
    EXPECT_EQ(desk.cell("comparedSettings", 0, 2), "10.0 %");
    EXPECT_EQ(desk.cell("comparedSettings", 0, 3), "tr");
    EXPECT_TRUE(desk.find<QTableView>("comparedSettings")->isVisible());

    // Slower by what lies between the levels, which says nothing of the board.
    const auto &pairs = desk.bench().comparedWith("beside")->found->pairs;
    const auto rise = std::ranges::find(pairs, "tr", [](const auto &pair) { return pair.second.id; });
    EXPECT_GT(*rise->times, 10);
    EXPECT_TRUE(rise->setDifferently);
    const int row = desk.rowOf("rise time");
    ASSERT_GE(row, 0);
    EXPECT_TRUE(desk.cell("comparedNumbers", row, ComparedNumbersModel::difference).startsWith("+"));

    const auto undone = desk.bench().document();
    QTest::mouseClick(desk.find<QPushButton>("makeAlike"), Qt::LeftButton);
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.bench().document().levels[0].low, 20);
    EXPECT_EQ(desk.rows("comparedSettings"), 0);
    EXPECT_FALSE(desk.find<QPushButton>("makeAlike")->isVisible());
    const auto &now = desk.bench().comparedWith("beside")->found->pairs;
    EXPECT_LT(std::abs(*std::ranges::find(now, "tr", [](const auto &pair) { return pair.second.id; })->times), 4);
    desk.key(Qt::Key_Z, Qt::ControlModifier); // one step
    ASSERT_TRUE(desk.compared());
    EXPECT_TRUE(desk.bench().document() == undone);
    EXPECT_EQ(desk.rows("comparedSettings"), 2);
}

TEST(Comparison, OneSettingAloneIsSetFromItsMenu)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    auto *table = desk.find<QTableView>("comparedSettings");
    desk.whenMenuOpens([](QMenu &menu) {
        QTest::keyClick(&menu, Qt::Key_Down);
        QTest::keyClick(&menu, Qt::Key_Return);
    });
    emit table->customContextMenuRequested(table->visualRect(table->model()->index(0, 0)).center());
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.bench().document().levels[0].low, 20);
    EXPECT_EQ(desk.bench().document().levels[0].high, 90);
    EXPECT_EQ(desk.rows("comparedSettings"), 1);
}

TEST(Comparison, ARowIsChosenThereAndEyesLieOverEachOther)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    auto *table = desk.find<QTableView>("comparedNumbers");
    table->setCurrentIndex(table->model()->index(desk.rowOf("amplitude"), 0));
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::measurement, "amp"}));
    desk.bench().select({Selection::Kind::measurement, "tr"});
    const auto labels = desk.find<QWidget>("inspectorForm")->findChildren<QLabel *>();
    EXPECT_TRUE(std::ranges::any_of(labels, [](const QLabel *label) {
        return label->text().contains("because low of fine differs: 20.0 %, here 10.0 %");
    }));
    table->setCurrentIndex(table->model()->index(desk.rowOf("mask1"), 0));
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::mask, "mask1"}));

    // Both inks are on the eyes' tile; where one is passed more often only, when D says so.
    auto *eyes = desk.find<ComparedEyesTile>("comparedEyesTile");
    const auto isInked = [&] {
        const QImage image = eyes->grab().toImage();
        int many = 0;
        for (int y = 40; y < image.height() - 30; ++y)
            for (int x = 90; x < image.width() - 20; ++x) many += QColor(image.pixel(x, y)).lightness() < 170;
        return many;
    };
    EXPECT_TRUE(test::waitFor([&] { return isInked() > 400; }));
    const int together = isInked();
    eyes->setFocus();
    QTest::keyClick(eyes, Qt::Key_D);
    EXPECT_TRUE(desk.bench().document().sheets.back().tiles[2].difference);
    EXPECT_TRUE(test::waitFor([&] { return isInked() < together / 2; }));
    ASSERT_NE(desk.find<ComparedCurvesTile>("comparedCurvesTile"), nullptr);
}

TEST(Comparison, NumbersAloneAreComparedWithoutEyes)
{
    BoardsDesk desk;
    desk.folder.write("old.json", resultsJson(*desk.bench().results(), {"", "2026-01-01T00:00:00Z"}));
    desk.layBeside("old.json");
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.rows("comparedSettings"), 0);
    EXPECT_EQ(desk.rowOf("rise time"), 0);
    EXPECT_EQ(desk.cell("comparedNumbers", 0, ComparedNumbersModel::verdict), "");
    EXPECT_FALSE(desk.bench().comparedWith("beside")->found->differs());
    EXPECT_FALSE(desk.bench().comparedWith("beside")->other->results);
}

TEST(Comparison, WhatCannotBeReadIsSaidAndNothingIsLost)
{
    BoardsDesk desk;
    desk.folder.write("broken.fulvex", "{\"fulvex\": 1, ");
    desk.layBeside("broken.fulvex");
    ASSERT_TRUE(test::waitFor([&] {
        const Compared *known = desk.bench().comparedWith("beside");
        return known && !known->error.empty();
    }));
    EXPECT_THAT(desk.bench().comparedWith("beside")->error, HasSubstr("broken.fulvex"));
    EXPECT_FALSE(desk.find<QTableView>("comparedNumbers")->isVisible());
    // Mended meanwhile: computing anew reads it again.
    desk.write("broken", 1, 20, 80, "1.5e6");
    desk.bench().evaluateAnew();
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.rows("comparedSettings"), 2);
}

/// Another project is opened, and the sheet removed, while the other result is read: nothing of it comes.
TEST(Comparison, GoesWithItsProjectAndItsEntry)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    desk.bench().newProject();
    EXPECT_EQ(desk.bench().comparedWith("beside"), nullptr);
    test::waitFor([&] { return desk.bench().comparedWith("beside") != nullptr; }, 500);
    EXPECT_EQ(desk.bench().comparedWith("beside"), nullptr);
    desk.open("after.fulvex");
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    desk.ask("remove the comparison beside");
    ASSERT_TRUE(desk.settled());
    EXPECT_TRUE(desk.bench().document().comparisons.empty());
    EXPECT_TRUE(test::waitFor([&] { return desk.bench().comparedWith("beside") == nullptr; }));
}

/// What was read stays while other things change, and its numbers follow this project's.
TEST(Comparison, FollowsThisProjectsNumbers)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    const auto other = desk.bench().comparedWith("beside")->other;
    desk.bench().change("bandwidth", [](Document &document) { document.clocks[0].bandwidth = 4e6; });
    ASSERT_TRUE(desk.compared());
    EXPECT_EQ(desk.bench().comparedWith("beside")->other, other);
    EXPECT_EQ(desk.rows("comparedSettings"), 3);
    EXPECT_EQ(desk.cell("comparedSettings", 2, 0), "bandwidth of loop");
}

/// A capture of another board laid beside: measured as this one, also after a setting was changed here, so that no
/// setting ever differs; a change of words measures nothing anew.
TEST(Comparison, ACaptureIsMeasuredAsThisProjectMeasuresItsOwn)
{
    BoardsDesk desk;
    desk.layBeside("before.npy");
    const auto found = [&]() -> const Comparison * {
        const auto &all = desk.bench().document().comparisons;
        const Compared *known = all.empty() ? nullptr : desk.bench().comparedWith(all.front().id);
        return known && known->found && known->own == desk.bench().sharedResults() ? known->found.get() : nullptr;
    };
    ASSERT_TRUE(test::waitFor([&] { return found() != nullptr; }));
    EXPECT_TRUE(found()->settings.empty());
    EXPECT_EQ(found()->otherCaptures, std::vector<std::string>{"r"});
    const auto riseTimes = [&] {
        const auto pair = std::ranges::find_if(found()->pairs, [](const Comparison::Pair &one) {
            return one.second.id == "tr" && one.second.part == ComparedNumber::Part::whole;
        });
        return std::pair(*pair->first.value, *pair->second.value);
    };
    const auto [first, second] = riseTimes();
    EXPECT_NE(first, second); // of other noise
    EXPECT_NEAR(first, second, 0.02 * second);

    desk.bench().change("levels", [](Document &document) {
        findEntry(document.levels, "fine")->low = 20;
        findEntry(document.levels, "fine")->high = 80;
    });
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(test::waitFor([&] { return found() && riseTimes().first < 0.9 * first; }));
    EXPECT_TRUE(found()->settings.empty());
    EXPECT_NEAR(riseTimes().first, riseTimes().second, 0.02 * second);

    const auto other = desk.bench().comparedWith(desk.bench().document().comparisons[0].id)->other;
    desk.bench().change("a title", [](Document &document) { document.title = "renamed"; });
    ASSERT_TRUE(desk.settled());
    ASSERT_TRUE(test::waitFor([&] { return found() != nullptr; }));
    EXPECT_EQ(desk.bench().comparedWith(desk.bench().document().comparisons[0].id)->other, other);
}

TEST(Comparison, IsReadOnceARowIsSelectedThatItTellsOf)
{
    BoardsDesk desk;
    desk.layBeside("before.fulvex");
    ASSERT_TRUE(desk.compared());
    const QString project = QString::fromStdString(desk.folder / "both.fulvex");
    desk.bench().save(project);
    desk.bench().errands().finish();
    Desk later;
    later.window().openFiles({project});
    ASSERT_TRUE(later.settled());
    ASSERT_EQ(later.bench().sheet(), 0); // of the eye
    const auto isKnown = [&] {
        const Compared *known = later.bench().comparedWith("beside");
        return known && known->found;
    };
    QTest::qWait(400);
    EXPECT_FALSE(isKnown());
    later.bench().select({Selection::Kind::measurement, "tr"});
    EXPECT_TRUE(test::waitFor(isKnown));
}
