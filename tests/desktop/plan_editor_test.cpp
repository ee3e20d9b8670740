// A test plan written in the window: made of a project, steps and tests added, saved, worked down, edited again.

#include "plan_editor.h"
#include "plan_station.h"
#include "simulator.h"

#include <QComboBox>
#include <gmock/gmock.h>

using namespace fulvex;
using fulvex::test::StationDesk;
using testing::HasSubstr;
using State = StepOutcome::State;

namespace {

/// A window with the editor, by what one sees and types.
struct EditorDesk : StationDesk {
    PlanEditor *editor() { return find<PlanEditor>("planEditor"); }
    template <typename Widget>
    Widget *part(const char *name)
    {
        return editor()->findChild<Widget *>(name);
    }
    void press(const char *button) { QTest::mouseClick(part<QPushButton>(button), Qt::LeftButton); }
    void type(const char *line, const QString &words)
    {
        auto *its = part<QLineEdit>(line);
        its->setText(words);
        emit its->editingFinished();
    }
    std::string told() { return part<QLabel>("planProblem")->text().toStdString(); }
    /// Types into a cell by its heading; whether it was taken.
    bool typeInto(const char *table, int row, const QString &heading, const QString &words)
    {
        auto *model = part<QTableView>(table)->model();
        for (int column = 0; column < model->columnCount(); ++column)
            if (model->headerData(column, Qt::Horizontal).toString() == heading)
                return model->setData(model->index(row, column), words);
        ADD_FAILURE() << heading.toStdString() << " is no column of " << table;
        return false;
    }
};

} // namespace

TEST(PlanEditing, APlanInUseIsChangedAndFollowed)
{
    EditorDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.dropInto("first", "cold", "slow.npy");
    ASSERT_TRUE(desk.comesTo("first", State::done));
    EXPECT_EQ(desk.says("first", "stepState"), "1 pass · 1 fails");
    desk.ask("edit the plan station");
    ASSERT_TRUE(desk.editor()->isVisible());
    EXPECT_EQ(desk.part<QListWidget>("planSteps")->count(), 2);
    EXPECT_EQ(desk.told(), "This plan can be worked down.");
    EXPECT_FALSE(desk.part<QPushButton>("planSave")->isEnabled());

    auto *tests = desk.part<QTableView>("planTests")->model();
    EXPECT_EQ(tests->index(0, 2).data().toString(), "tr");
    EXPECT_EQ(tests->index(0, 5).data().toString(), "300 ps");
    EXPECT_EQ(tests->index(1, 4).data().toString(), "700 mV");
    // The limit as people write it, in the row's unit.
    EXPECT_TRUE(desk.typeInto("planTests", 0, "at most", "900 ps"));
    EXPECT_EQ(desk.editor()->plan().steps[0].tests[0].limit.max, 9e-10);
    EXPECT_FALSE(desk.typeInto("planTests", 0, "at most", "900 V"));
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("\"900 V\" is not understood"));
    EXPECT_TRUE(desk.typeInto("planTests", 0, "clause", "4.2, table 3"));

    // What is wrong is said, and not saved.
    EXPECT_TRUE(desk.typeInto("planTests", 0, "of", "nothing_there"));
    EXPECT_THAT(desk.told(), HasSubstr("steps[0].tests[0].of: the setup has no row, mask"));
    EXPECT_FALSE(desk.part<QPushButton>("planSave")->isEnabled());
    const std::string before = test::readAll(desk.folder / "station.fulvexplan");
    EXPECT_FALSE(desk.editor()->save());
    EXPECT_EQ(test::readAll(desk.folder / "station.fulvexplan"), before);
    QTest::keyClick(desk.part<QTableView>("planTests"), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(desk.editor()->plan().steps[0].tests[0].of, "tr");
    EXPECT_EQ(desk.bench().document().attempts.size(), 1u); // the project's own steps are as they were
    QTest::keyClick(desk.part<QTableView>("planTests"), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(desk.editor()->plan().steps[0].tests[0].of, "nothing_there");
    QTest::keyClick(desk.part<QTableView>("planTests"), Qt::Key_Z, Qt::ControlModifier);

    desk.press("planSave");
    EXPECT_EQ(loadPlan(desk.folder / "station.fulvexplan").steps[0].tests[0].clause, "4.2, table 3");
    desk.press("planBack");
    EXPECT_FALSE(desk.editor()->isVisible());
    // The same attempt is judged by the new limit.
    ASSERT_TRUE(test::waitFor([&] { return desk.says("first", "stepState") == "✓ all 2 pass"; }));
    EXPECT_EQ(desk.cell("first", 0, 6), "clause 4.2, table 3");
}

TEST(PlanEditing, APlanIsMadeOfAProjectAndWorkedDown)
{
    EditorDesk desk;
    ASSERT_TRUE(desk.planned());
    // A project with one capture and one limit, as one has it after a look at a device.
    desk.folder.write("looked.fulvex", R"json({"fulvex": 1, "title": "Harbour light",
        "captures": [{"id": "r", "file": "cold.npy", "import": {"sample_interval": 1e-10}}],
        "channels": [{"id": "a", "capture": "r", "unit": "V"}],
        "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a", "limit": {"max": 5e-10}},
                         {"id": "amp", "quantity": "amplitude", "source": "a"}]})json");
    desk.bench().openProject(desk.file("looked.fulvex"));
    desk.bench().errands().finish();
    ASSERT_TRUE(desk.settled());
    desk.ask("make a test plan of this project");
    ASSERT_TRUE(desk.editor()->isVisible());
    EXPECT_EQ(desk.told(), "This plan can be worked down.");
    EXPECT_EQ(desk.editor()->plan().id, "harbour_light");
    EXPECT_EQ(desk.editor()->plan().setups[0].document.captures[0].file, unfilledFile);
    ASSERT_EQ(desk.editor()->plan().steps[0].tests.size(), 1u);

    desk.type("stepTitle", "At night");
    desk.part<QPlainTextEdit>("stepText")->setPlainText("Wait until it is dark.");
    EXPECT_TRUE(desk.typeInto("planSlots", 0, "samples", "20000"));
    EXPECT_TRUE(desk.typeInto("planSlots", 0, "sample rate", "8 GSa/s"));
    desk.press("testAdd");
    EXPECT_THAT(desk.told(), HasSubstr("tests[1].of"));
    EXPECT_TRUE(desk.typeInto("planTests", 1, "of", "amp"));
    EXPECT_TRUE(desk.typeInto("planTests", 1, "its", "mean"));
    EXPECT_THAT(desk.told(), HasSubstr("tests[1].limit: is missing"));
    EXPECT_TRUE(desk.typeInto("planTests", 1, "at least", "0.7 V"));
    EXPECT_EQ(desk.told(), "This plan can be worked down.");
    // A second step, before the first, measured the same way; and one too many.
    desk.press("stepAdd");
    EXPECT_EQ(desk.part<QListWidget>("planSteps")->currentRow(), 1);
    desk.type("stepTitle", "At dawn");
    desk.press("testsOfSetup");
    desk.press("stepUp");
    EXPECT_EQ(desk.editor()->plan().steps[0].title, "At dawn");
    EXPECT_NE(desk.editor()->plan().steps[0].captures[0].id, desk.editor()->plan().steps[1].captures[0].id);
    desk.press("stepAdd");
    desk.press("stepRemove");
    EXPECT_EQ(desk.editor()->plan().steps.size(), 2u);
    EXPECT_EQ(desk.told(), "This plan can be worked down.");

    desk.answer(desk.file("harbour"));
    desk.press("planSave");
    const Plan saved = loadPlan(desk.folder / "harbour.fulvexplan");
    EXPECT_EQ(saved, desk.editor()->plan());
    EXPECT_EQ(saved.steps[1].captures[0].wants.sampleRate, 8e9);
    QTest::mouseClick(desk.find<QPushButton>("workDown"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor(
        [&] { return desk.find<StepCard>(("step_" + saved.steps[1].id).c_str()) && !desk.editor()->isVisible(); }));
    fillSlot(desk.bench(), saved.id, saved.steps[1].id, saved.steps[1].captures[0].id, {desk.file("cold.npy")});
    EXPECT_TRUE(
        test::waitFor([&] { return desk.bench().outcomeOf(saved.id, saved.steps[1]).verdict() == TestVerdict::pass; }));
}

TEST(PlanEditing, UnsavedChangesAreAskedFor)
{
    EditorDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.ask("edit the plan station");
    desk.type("planRevision", "B");
    desk.whenAsked([](QDialog &dialog) { dialog.reject(); }); // cancel: stay
    QTest::keyClick(desk.part<QListWidget>("planSteps"), Qt::Key_Escape);
    EXPECT_TRUE(desk.editor()->isVisible());
    desk.bench().newProject(); // another project is opened meanwhile: the plan stays
    EXPECT_TRUE(desk.editor()->isVisible());
    EXPECT_EQ(desk.editor()->plan().revision, "B");
    desk.press("planSave");
    desk.press("planBack");
    EXPECT_FALSE(desk.editor()->isVisible());
    EXPECT_EQ(loadPlan(desk.folder / "station.fulvexplan").revision, "B");
}

/// An instrument's captures go into a slot one by one, and nowhere else; another project ends that.
TEST(PlanDesk, ASlotIsFilledByAnInstrument)
{
    test::Simulator instrument({.samples = 40000, .mostPerSecond = 40});
    StationDesk desk;
    ASSERT_TRUE(desk.planned());
    desk.answer(QString::fromStdString(instrument.address()));
    auto *box = desk.card("second")->findChild<SlotBox *>("slot_warm");
    QTest::mouseClick(box->findChild<QPushButton *>("acquireCapture"), Qt::LeftButton);
    ASSERT_TRUE(test::waitFor([&] {
        const AttemptEntry *newest = newestAttempt(desk.bench().document(), "station", "second");
        return newest && newest->captures.size() == 1;
    }));
    EXPECT_TRUE(desk.comesTo("second", State::done) || desk.comesTo("second", State::refused));
    EXPECT_TRUE(desk.bench().document().captures.empty());
    EXPECT_FALSE(desk.bench().live().running());
    const auto [slot, file] =
        AttemptEntry::parted(newestAttempt(desk.bench().document(), "station", "second")->captures[0]);
    EXPECT_EQ(slot, "warm");
    EXPECT_TRUE(std::filesystem::exists(desk.bench().base() / file)) << file;

    const std::size_t before = desk.bench().document().attempts.size();
    acquireForSlot(desk.bench(), "station", "first",
                   *findEntry(desk.bench().planState("station")->plan->step("first")->captures, "cold"),
                   QString::fromStdString(instrument.address()));
    desk.bench().newProject();
    QTest::qWait(300);
    EXPECT_TRUE(desk.bench().document().attempts.empty());
    EXPECT_GE(before, 1u);
    acquireForSlot(desk.bench(), "station", "first", {}, "127.0.0.1:1"); // there is no such plan any more
    EXPECT_FALSE(desk.bench().live().running());
}
