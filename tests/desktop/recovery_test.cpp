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

/// What is kept of a desk's work, as it would lie there had the program been killed.
QByteArray keptCopy(Desk &desk)
{
    QByteArray kept;
    (void)desk;
    EXPECT_TRUE(test::waitFor([&] {
        const QFileInfoList files = unsaved().entryInfoList(QDir::Files);
        if (files.isEmpty()) return false;
        QFile file(files.first().filePath());
        if (file.open(QIODevice::ReadOnly)) kept = file.readAll();
        return !kept.isEmpty();
    }));
    return kept;
}

void leaveCopy(const QByteArray &kept, const QString &name)
{
    QFile file(unsaved().filePath(name));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(kept);
}

void clear()
{
    unsaved().removeRecursively();
}

} // namespace

TEST(Recovery, WhatWasNotSavedIsOfferedAfterACrashAndGoneOnWith)
{
    clear();
    QByteArray kept;
    {
        Desk desk;
        desk.openDemo();
        desk.bench().change("rename", [](Document &document) { document.title = "half done"; });
        kept = keptCopy(desk);
        desk.bench().undoStack().clear();
    }
    EXPECT_TRUE(unsaved().entryList(QDir::Files).isEmpty()); // closed as it should be: nothing is left
    leaveCopy(kept, "999999999-1-1");                        // a process that runs no more
    Desk desk;
    desk.window().offerRecovery();
    EXPECT_EQ(desk.message(), "\"half done\" was not saved when the program ended (brackwater.fulvex).");
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
    const QByteArray kept = keptCopy(desk);
    EXPECT_TRUE(Recovery::left().empty()); // this program's own
    leaveCopy(kept.left(kept.size() / 2), "999999999-1-1");
    EXPECT_TRUE(Recovery::left().empty());
    leaveCopy(kept, "999999998-1-1");
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
