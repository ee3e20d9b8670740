#include "desktop_support.h"
#include "document_json.h"
#include "project_file.h"
#include "temporary_folder.h"

#include <fstream>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;
namespace fs = std::filesystem;

namespace {

/// The first lines of the demo's link.
const std::string &linkTable()
{
    static const std::string lines = [] {
        const std::string all = test::readAll(FULVEX_DEMO "/captures/camera-link.csv");
        return all.substr(0, all.rfind('\n', 2'000'000) + 1);
    }();
    return lines;
}

/// A project of them in a folder of its own within another, so that its files can be moved.
std::string linkProject(const test::TemporaryFolder &folder)
{
    fs::create_directories(folder.path() / "work/captures");
    folder.write("work/captures/camera-link.csv", linkTable());
    return folder.write("work/link.fulvex", R"({"fulvex": 1, "title": "link",
        "captures": [{"id": "run1", "file": "captures/camera-link.csv"}],
        "channels": [{"id": "p", "capture": "run1", "column": 0}],
        "sheets": [{"id": "look", "title": "Look", "tiles": [{"kind": "traces", "of": ["p"], "row": 0, "column": 0}]}]})");
}

void saveAs(Desk &desk, const std::string &path)
{
    bool saved = false;
    desk.bench().save(QString::fromStdString(path), [&] { saved = true; });
    desk.bench().errands().finish();
    EXPECT_TRUE(saved);
}

} // namespace

TEST(ProjectFiles, PackedOpenedElsewhereAndSavedAsAPlainOne)
{
    const test::TemporaryFolder folder, elsewhere;
    const std::string packed = elsewhere / "link.fulvexpack";
    {
        Desk desk;
        desk.window().openFiles({QString::fromStdString(linkProject(folder))});
        ASSERT_TRUE(desk.settled());
        saveAs(desk, packed);
    }
    fs::remove_all(folder.path() / "work/captures");
    Desk desk;
    desk.drop({QString::fromStdString(packed)});
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().document().title == "link"; }));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->firstError(), "");
    EXPECT_EQ(desk.message(), "");
    // Changed and packed again over itself; then as a plain project, which takes its captures along.
    desk.bench().change("rename", [](Document &document) { document.title = "again"; });
    saveAs(desk, packed);
    EXPECT_FALSE(desk.window().isWindowModified());
    Progress progress;
    EXPECT_EQ(openProject(packed, progress).document.title, "again");
    saveAs(desk, elsewhere / "plain.fulvex");
    const Document plain = loadDocument(elsewhere / "plain.fulvex");
    EXPECT_EQ(plain.captures[0].file, "plain-captures/run1/camera-link.csv");
    EXPECT_EQ(test::readAll(elsewhere.path() / plain.captures[0].file), linkTable());
}

TEST(ProjectFiles, AMovedCaptureIsOfferedWhereItIsNowAndTakenByOneClick)
{
    const test::TemporaryFolder folder;
    const std::string project = linkProject(folder);
    {
        Desk desk;
        desk.window().openFiles({QString::fromStdString(project)});
        ASSERT_TRUE(desk.settled());
        saveAs(desk, project); // with its fingerprint
    }
    fs::create_directories(folder.path() / "work/archive");
    fs::rename(folder.path() / "work/captures/camera-link.csv", folder.path() / "work/archive/tuesday.csv");
    Desk desk;
    desk.window().openFiles({QString::fromStdString(project)});
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("useFound") != nullptr; }));
    EXPECT_EQ(desk.message().toStdString(), "Capture run1 is not at " + (folder / "work/captures/camera-link.csv") +
                                                ". The same samples lie in archive/tuesday.csv.");
    EXPECT_EQ(desk.bench().document().captures[0].file, "captures/camera-link.csv"); // not used silently
    QTest::mouseClick(desk.find<QPushButton>("useFound"), Qt::LeftButton);
    EXPECT_EQ(desk.bench().document().captures[0].file, "archive/tuesday.csv");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->firstError(), "");
    EXPECT_TRUE(desk.window().isWindowModified());
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(desk.window().isWindowModified());
}

TEST(ProjectFiles, ACaptureThatIsNowhereNearIsAskedFor)
{
    const test::TemporaryFolder folder, elsewhere;
    const std::string project = linkProject(folder);
    fs::rename(folder.path() / "work/captures/camera-link.csv", elsewhere / "camera.csv");
    Desk desk;
    desk.window().openFiles({QString::fromStdString(project)});
    ASSERT_TRUE(test::waitFor([&] { return desk.find<QPushButton>("findCapture") != nullptr; }));
    EXPECT_EQ(desk.find<QPushButton>("useFound"), nullptr);
    desk.answer(QString::fromStdString(elsewhere / "camera.csv"));
    QTest::mouseClick(desk.find<QPushButton>("findCapture"), Qt::LeftButton);
    EXPECT_EQ(desk.bench().document().captures[0].file, elsewhere / "camera.csv");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().results()->firstError(), "");
    desk.bench().undoStack().clear();
}

TEST(ProjectFiles, TwoWindowsOnOneProjectDoNotOverwriteEachOther)
{
    const test::TemporaryFolder folder;
    const QString project = QString::fromStdString(linkProject(folder));
    Desk first, second;
    for (Desk *desk : {&first, &second}) {
        desk->window().openFiles({project});
        ASSERT_TRUE(desk->settled());
    }
    first.bench().change("rename", [](Document &document) { document.title = "of the first"; });
    second.bench().change("rename", [](Document &document) { document.title = "of the second"; });
    saveAs(first, project.toStdString());
    second.key(Qt::Key_S, Qt::ControlModifier);
    second.bench().errands().finish();
    EXPECT_THAT(second.message().toStdString(),
                testing::HasSubstr("was written by another window or program since it was opened here"));
    EXPECT_TRUE(second.window().isWindowModified());
    EXPECT_EQ(loadDocument(project.toStdString()).title, "of the first");
    saveAs(second, folder / "mine.fulvex"); // under another name nothing is lost
    EXPECT_EQ(loadDocument(folder / "mine.fulvex").title, "of the second");
    first.bench().change("rename", [](Document &document) { document.title = "and again"; });
    saveAs(first, project.toStdString()); // its own writing does not stop it
}

TEST(ProjectFiles, ANewerOneIsSaidAndLeftAsItIs)
{
    const test::TemporaryFolder folder;
    const std::string newer = R"({"fulvex": 2, "title": "From tomorrow", "holograms": []})";
    folder.write("newer.fulvex", newer);
    Desk desk;
    desk.openDemo();
    desk.window().openFiles({QString::fromStdString(folder / "newer.fulvex")});
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("of a newer version of Fulvex"));
    EXPECT_EQ(desk.bench().document().title, "Brackwater: camera link") << "what was open stays open";
    std::ifstream file(folder / "newer.fulvex");
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(file), {}), newer);
}

TEST(ProjectFiles, WhatCannotBeWrittenIsSaidAndStaysUnsaved)
{
    const test::TemporaryFolder folder;
    Desk desk;
    desk.openDemo();
    desk.bench().change("title", [](Document &document) { document.title = "Mine"; });
    folder.write("a file", "");
    desk.answer(QString::fromStdString(folder / "a file/project.fulvex")); // no folder
    desk.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_TRUE(test::waitFor([&] { return !desk.bench().errands().busy() && !desk.message().isEmpty(); }));
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("a file/project.fulvex"));
    EXPECT_FALSE(desk.bench().undoStack().isClean());
    desk.answer(QString::fromStdString(folder / "project.fulvex"));
    desk.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(test::waitFor([&] { return desk.bench().undoStack().isClean(); }));
    EXPECT_TRUE(std::filesystem::exists(folder.path() / "project.fulvex"));
}
