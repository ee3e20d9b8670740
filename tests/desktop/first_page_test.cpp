// The first page: what the window shows while there is nothing in it.

#include "desktop_support.h"
#include "recent_projects.h"
#include "temporary_folder.h"

#include <QSettings>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

namespace {

struct FirstPageTest : testing::Test {
    FirstPageTest() { QSettings().remove("recent"); }
    ~FirstPageTest() override { QSettings().remove("recent"); }
    bool isFirst(Desk &desk) { return desk.window().findChild<QWidget *>("firstPage")->isVisible(); }
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(FirstPageTest, LeadsToTheDemoAndComesBackWithItsPicture)
{
    Desk desk;
    EXPECT_TRUE(isFirst(desk));
    EXPECT_FALSE(desk.find<QWidget>("ledgerTable")->isVisible());
    EXPECT_FALSE(desk.find<QListWidget>("firstRecent")->isVisible());
    EXPECT_LT(desk.find<QWidget>("firstTitle")->height(), 60) << "what there is stands together at the top";
    EXPECT_LT(desk.find<QWidget>("firstDrop")->height(), 160);
    QTest::mouseClick(desk.find<QPushButton>("firstDemo"), Qt::LeftButton);
    EXPECT_FALSE(isFirst(desk));
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.bench().document().title, "Brackwater: camera link");
    const QString path = desk.bench().path();
    ASSERT_TRUE(test::waitFor([&] {
        const auto all = recentProjects();
        return all.size() == 1 && !all[0].picture.isNull();
    }));
    desk.key(Qt::Key_N, Qt::ControlModifier);
    EXPECT_TRUE(isFirst(desk));
    auto *recent = desk.find<QListWidget>("firstRecent");
    ASSERT_EQ(recent->count(), 1);
    EXPECT_EQ(recent->item(0)->text(), "Brackwater: camera link");
    recent->setFocus();
    recent->setCurrentRow(0);
    QTest::keyClick(recent, Qt::Key_Return);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().path() == path; }));
    EXPECT_FALSE(isFirst(desk));
}

TEST_F(FirstPageTest, OffersOnlyWhatIsStillThere)
{
    folder.write("here.fulvex", R"({"fulvex": 1, "title": "Here"})");
    folder.write("gone.fulvex", R"({"fulvex": 1})");
    for (const char *name : {"gone.fulvex", "here.fulvex"}) rememberProject(QString::fromStdString(folder / name));
    std::filesystem::remove(folder.path() / "gone.fulvex");
    Desk desk;
    auto *recent = desk.find<QListWidget>("firstRecent");
    ASSERT_EQ(recent->count(), 1);
    EXPECT_EQ(recent->item(0)->text(), "here"); // its title is not known before it was opened
}

TEST_F(FirstPageTest, GoesWhenSomethingIsBroughtInAndWithUndoComesBack)
{
    folder.write("v.csv", "t,v\n0,0\n1e-9,1\n2e-9,0\n3e-9,1\n");
    Desk desk;
    desk.drop({QString::fromStdString(folder / "v.csv")});
    ASSERT_TRUE(desk.importShown());
    EXPECT_FALSE(isFirst(desk));
    desk.takeImport();
    EXPECT_FALSE(isFirst(desk));
    EXPECT_TRUE(desk.find<QWidget>("ledgerTable")->isVisible());
    desk.bench().undoStack().undo();
    EXPECT_TRUE(isFirst(desk));
    desk.bench().undoStack().redo();
    EXPECT_FALSE(isFirst(desk));
    desk.bench().undoStack().clear();
}
