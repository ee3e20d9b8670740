// Programs of the user's in the window: shown before they run, allowed by a press, followed by a slider, stopped where
// they hang.

#include "desktop_support.h"
#include "own_config.h"

#include <QAbstractButton>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSlider>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
using testing::HasSubstr;

namespace {

class ProgramsShown : public testing::Test {
protected:
    ProgramsShown()
    {
        desk.openDemo();
        desk.bench().change("", [this](Document &document) {
            ProgramEntry entry;
            entry.id = "limited";
            entry.file = folder.write("limited.py", R"(#!/usr/bin/python3
import json, sys, time
import numpy
from numpy.lib import format as npy
task = json.loads(sys.stdin.buffer.readline())
if task["parameters"]["top"] > 0.5: time.sleep(1000)
npy.read_magic(sys.stdin.buffer)
npy.read_array_header_1_0(sys.stdin.buffer)
made = numpy.minimum(numpy.frombuffer(sys.stdin.buffer.read()), task["parameters"]["top"])
npy.write_array_header_1_0(sys.stdout.buffer, npy.header_data_from_array_1_0(made))
sys.stdout.buffer.write(made.tobytes())
)");
            entry.arguments = {"signal"};
            entry.parameters = {"top"};
            document.programs.push_back(entry);
            document.parameters.push_back({"top", 0.2, 0, 1, "V"});
            document.channels.push_back({});
            document.channels.back().id = "cut";
            document.channels.back().formula = "limited(link, top)";
            document.measurements.push_back({.id = "highest", .quantity = "maximum", .source = "cut"});
        });
        EXPECT_TRUE(desk.settled());
    }
    const ChannelResult &cut() { return *findEntry(desk.bench().results()->channels, "cut"); }
    std::optional<double> highest() { return findEntry(desk.bench().results()->rows, "highest")->statistics.mean; }
    const test::OwnConfig config;
    const test::TemporaryFolder folder;
    Desk desk;
};

} // namespace

TEST_F(ProgramsShown, AreReadAndAllowedBeforeTheyRun)
{
    EXPECT_THAT(cut().error, HasSubstr("has not been allowed to run here"));
    EXPECT_THAT(desk.message().toStdString(), HasSubstr("limited.py, a program that was not allowed here yet"));
    auto *look = desk.find<QPushButton>("lookAtProgram");
    ASSERT_TRUE(look);
    look->click();
    EXPECT_EQ(desk.bench().selection(), (Selection{Selection::Kind::program, "limited"}));
    auto *shown = desk.find<QPlainTextEdit>("programText");
    ASSERT_TRUE(shown);
    EXPECT_TRUE(shown->isReadOnly());
    EXPECT_THAT(shown->toPlainText().toStdString(), HasSubstr("numpy.minimum"));
    auto *allow = desk.find<QPushButton>("allowProgram");
    ASSERT_TRUE(allow);
    allow->click();
    ASSERT_TRUE(test::waitFor([&] { return cut().error.empty() && highest().has_value(); }));
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(*highest(), 0.2, 1e-9);
    EXPECT_EQ(desk.bench().document().programs[0].sha256.size(), 64u);

    // Its constant is a parameter with a slider.
    auto *slider = desk.find<QSlider>("slider_top");
    ASSERT_TRUE(slider && slider->isVisible());
    slider->setValue(100);
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(*highest(), desk.bench().document().parameters[0].value, 1e-9);
    EXPECT_LT(*highest(), 0.15);

    // Another content does not run, whoever put it there; nor does the first, once it is forbidden.
    const std::string first = "#!/bin/sh\nexit 1\n";
    folder.write("limited.py", first);
    desk.bench().evaluateAnew();
    ASSERT_TRUE(desk.settled());
    EXPECT_THAT(cut().error, HasSubstr("is not the one that the project was saved with"));
    EXPECT_FALSE(desk.find<QPushButton>("forbidProgram"));
}

/// While a formula that calls one is typed, nothing runs: unit and help are told all the same.
TEST_F(ProgramsShown, AreCompletedAndExplainedWhereTheyAreTyped)
{
    desk.bench().select({Selection::Kind::channel, "cut"});
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    auto *typed = desk.find<QPlainTextEdit>("formulaText");
    ASSERT_TRUE(typed->isVisible());
    typed->setPlainText("limited(link, ");
    typed->moveCursor(QTextCursor::End);
    EXPECT_THAT(desk.find<QLabel>("formulaHelp")->text().toStdString(), HasSubstr("limited(signal, top): "));
    typed->setPlainText("limited(link, 0.9) * 2");
    const auto *state = desk.find<QLabel>("formulaState");
    ASSERT_TRUE(test::waitFor([&] { return state->text().contains("its program runs when it is taken"); }));
    EXPECT_THAT(state->text().toStdString(), HasSubstr("in V, at 8.000 GS/s"));
    QTest::keyClick(typed, Qt::Key_Escape);
    EXPECT_THAT(cut().error, HasSubstr("has not been allowed"));
}

TEST_F(ProgramsShown, ThatHangAreStoppedByHand)
{
    desk.bench().select({Selection::Kind::program, "limited"});
    desk.find<QPushButton>("allowProgram")->click();
    ASSERT_TRUE(test::waitFor([&] { return cut().error.empty() && highest().has_value(); }));
    ASSERT_TRUE(desk.settled());
    desk.bench().change("", [](Document &document) { document.parameters[0].value = 0.9; });
    ASSERT_TRUE(test::waitFor([&] { // all but what it makes is there
        const ChannelResult *link = findEntry(desk.bench().results()->channels, "link");
        return desk.bench().evaluator().busy() && link && !link->pending && cut().pending;
    }));
    auto *stop = desk.find<QAbstractButton>("cancel");
    ASSERT_TRUE(test::waitFor([&] { return stop->isVisible(); }));
    stop->click();
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().evaluator().busy(); }));
    EXPECT_FALSE(desk.bench().upToDate());
    desk.bench().change("", [](Document &document) { document.parameters[0].value = 0.91; });
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().evaluator().busy(); }));
    desk.key(Qt::Key_Period, Qt::ControlModifier);
    EXPECT_TRUE(test::waitFor([&] { return !desk.bench().evaluator().busy(); }));
    desk.bench().change("", [](Document &document) { document.parameters[0].value = 0.1; });
    ASSERT_TRUE(desk.settled()); // and goes on with what does not hang
    EXPECT_NEAR(*highest(), 0.1, 1e-9);
    // Given less time, it says so by itself.
    desk.bench().change("", [](Document &document) {
        document.parameters[0].value = 0.9;
        document.programs[0].seconds = 0.5;
    });
    ASSERT_TRUE(desk.settled());
    EXPECT_THAT(cut().error, HasSubstr("took longer than 500 ms and was stopped"));
    // A change that comes meanwhile does not wait for it.
    desk.bench().change("", [](Document &document) { document.programs[0].seconds = 100; });
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().evaluator().busy(); }));
    QTest::qWait(500);
    desk.bench().change("", [](Document &document) { document.parameters[0].value = 0.15; });
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(*highest(), 0.15, 1e-9);
}
