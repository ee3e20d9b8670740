#include "desktop_support.h"

#include <QDir>
#include <QStandardPaths>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

QDir unsaved()
{
    return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved");
}

void clear()
{
    unsaved().removeRecursively();
}

/// What is kept of a desk's work, as it would lie there had the program been killed.
QByteArray keptCopy()
{
    QByteArray kept;
    EXPECT_TRUE(test::waitFor([&] {
        const QFileInfoList files = unsaved().entryInfoList(QDir::Files);
        if (files.isEmpty()) return false;
        QFile file(files.first().filePath());
        if (file.open(QIODevice::ReadOnly)) kept = file.readAll();
        return !kept.isEmpty();
    }));
    return kept;
}

/// What is kept of the demo, renamed; closed as it should be since.
QByteArray keptOfDemo(const std::string &title)
{
    clear();
    Desk desk;
    desk.openDemo();
    desk.bench().change("rename", [&](Document &document) { document.title = title; });
    const QByteArray kept = keptCopy();
    desk.bench().undoStack().clear();
    return kept;
}

void leaveCopy(const QByteArray &kept, const QString &name)
{
    QFile file(unsaved().filePath(name));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(kept);
}

} // namespace

TEST(Recovery, WhatWasNotSavedIsOfferedAfterACrashAndGoneOnWith)
{
    const QByteArray kept = keptOfDemo("half done");
    EXPECT_TRUE(unsaved().entryList(QDir::Files).isEmpty()); // closed as it should be: nothing is left
    leaveCopy(kept, "before-999999999-1-1");                        // a process that runs no more
    Desk desk;
    desk.window().offerRecovery();
    EXPECT_EQ(desk.message(), "\"half done\" was not saved when the program ended (tests-brackwater.fulvex).");
    QTest::mouseClick(desk.find<QPushButton>("recover"), Qt::LeftButton);
    EXPECT_EQ(desk.message(), "");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().title, "half done");
    EXPECT_EQ(desk.bench().results()->firstError(), ""); // its captures are found
    EXPECT_TRUE(desk.window().isWindowModified());
    EXPECT_TRUE(desk.bench().path().endsWith("brackwater.fulvex"));
    desk.bench().undoStack().clear();
    clear();
}

TEST(Recovery, CopiesOfProgramsThatRunAndTornOnesAreLeftAlone)
{
    clear();
    Desk desk;
    desk.openDemo();
    desk.bench().change("rename", [](Document &document) { document.title = "running"; });
    const QByteArray kept = keptCopy();
    EXPECT_TRUE(Recovery::left().empty()); // this program's own
    leaveCopy(kept.left(kept.size() / 2), "before-999999999-1-1");
    EXPECT_TRUE(Recovery::left().empty());
    leaveCopy(kept, "before-999999998-1-1");
    ASSERT_EQ(Recovery::left().size(), 1u);
    desk.window().offerRecovery();
    QTest::mouseClick(desk.find<QPushButton>("discard"), Qt::LeftButton);
    EXPECT_TRUE(Recovery::left().empty());
    EXPECT_EQ(desk.message(), "");
    EXPECT_EQ(desk.bench().document().title, "running");
    desk.key(Qt::Key_Z, Qt::ControlModifier); // as it was on disk: nothing is to be kept
    EXPECT_TRUE(test::waitFor([] { return unsaved().entryList({"*-1"}, QDir::Files).size() == 1; })); // the torn one
    clear();
}

TEST(Recovery, ACopyThatCannotBeKeptIsSaidOnceAndTriedAgain)
{
    clear();
    Desk desk;
    desk.openDemo();
    clear();
    QFile inTheWay(unsaved().path());
    ASSERT_TRUE(inTheWay.open(QIODevice::WriteOnly));
    const auto rename = [&](const std::string &title) {
        desk.bench().change("rename", [&](Document &document) { document.title = title; });
    };
    rename("one");
    ASSERT_TRUE(test::waitFor([&] { return !desk.message().isEmpty(); }));
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("No copy of what is not saved"));
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("check that its folder exists"));
    ASSERT_TRUE(inTheWay.remove());
    ASSERT_TRUE(unsaved().mkpath("."));
    rename("two");
    EXPECT_THAT(keptCopy().toStdString(), testing::HasSubstr("\"two\""));
    desk.bench().undoStack().clear();
}

TEST(Recovery, TheOnlyCopyStaysUntilTheNextIsWrittenAndAnEvaluationHasEnded)
{
    const QByteArray kept = keptOfDemo("fragile");
    const QString left = "before-999999999-1-1";
    leaveCopy(kept, left);
    const auto there = [&] { return unsaved().exists(left) && unsaved().exists(left + ".tried"); };
    Desk desk;
    desk.window().offerRecovery();
    QTest::mouseClick(desk.find<QPushButton>("recover"), Qt::LeftButton);
    EXPECT_TRUE(there()); // should the program end now, it is known which one brought it down
    desk.bench().evaluator().cancel();
    const auto copies = [] {
        return unsaved().entryList(QDir::Files).size() - unsaved().entryList({"*.tried"}, QDir::Files).size();
    };
    ASSERT_TRUE(test::waitFor([&] { return copies() == 2; })); // this window's own
    EXPECT_TRUE(test::waitFor([&] { return !desk.bench().evaluator().busy(); }));
    EXPECT_TRUE(there()); // nothing was evaluated to its end
    desk.key(Qt::Key_F9, Qt::NoModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(unsaved().exists(left));
    EXPECT_TRUE(unsaved().entryList({"*.tried"}, QDir::Files).isEmpty());
    EXPECT_EQ(copies(), 1);
    desk.bench().undoStack().clear();
    clear();
}

TEST(Recovery, WhatEndedTheProgramTwiceIsOpenedWithoutComputing)
{
    const QByteArray kept = keptOfDemo("fatal");
    leaveCopy(kept, "before-999999999-1-1");
    leaveCopy("\n", "before-999999999-1-1.tried");
    Desk desk;
    desk.window().offerRecovery();
    EXPECT_EQ(desk.message(),
              "\"fatal\" was not saved (tests-brackwater.fulvex), and the program ended once already while "
              "going on with it.");
    auto *recover = desk.find<QPushButton>("recover");
    EXPECT_EQ(recover->text(), "Open it without computing");
    QTest::mouseClick(recover, Qt::LeftButton);
    EXPECT_EQ(desk.bench().document().title, "fatal");
    EXPECT_TRUE(desk.bench().held());
    desk.bench().change("mend", [](Document &document) { document.channels[0].scale *= 2; });
    QTest::qWait(900); // long enough for a copy to be kept, and for numbers
    EXPECT_FALSE(desk.bench().evaluator().busy());
    EXPECT_EQ(desk.bench().results(), nullptr);
    EXPECT_TRUE(unsaved().exists("before-999999999-1-1"));
    desk.window().exportTable(unsaved().filePath("t.csv"));
    EXPECT_EQ(desk.message(), "t.csv: nothing is computed yet; compute first (F9).");
    desk.key(Qt::Key_F9, Qt::NoModifier);
    ASSERT_TRUE(desk.settled());
    EXPECT_FALSE(desk.bench().held());
    EXPECT_EQ(desk.bench().results()->document->channels[0].scale, desk.bench().document().channels[0].scale);
    EXPECT_FALSE(unsaved().exists("before-999999999-1-1"));
    desk.bench().undoStack().clear();
    clear();
}
