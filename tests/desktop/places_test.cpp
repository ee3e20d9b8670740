// Where files are proposed to be written.

#include "desktop_support.h"
#include "temporary_folder.h"

#include <QDir>
#include <QFileDialog>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

struct PlacesDesk : Desk {
    PlacesDesk()
    {
        const std::string file = folder.write("bench_7.csv", "time (s),a (V)\n0,0.1\n1e-9,0.2\n2e-9,-0.3\n3e-9,0.4\n");
        drop({QString::fromStdString(file)});
        EXPECT_TRUE(importShown());
        takeImport();
        EXPECT_TRUE(settled());
    }
    /// What the dialog proposes that a key opens; it is left.
    QString proposed(Qt::Key by)
    {
        QString place;
        whenAsked([&](QDialog &dialog) {
            auto *files = qobject_cast<QFileDialog *>(&dialog);
            ASSERT_NE(files, nullptr);
            place = files->directory().filePath(files->findChild<QLineEdit *>()->text());
            dialog.reject();
        });
        key(by, Qt::ControlModifier);
        return place;
    }
    QString in(const QString &name) const { return QString::fromStdString(folder / name.toStdString()); }
    test::TemporaryFolder folder;
};

} // namespace

TEST(Places, FilesAreProposedBesideTheCaptureOfAProjectThatHasNoPlace)
{
    PlacesDesk desk;
    EXPECT_EQ(desk.proposed(Qt::Key_S), desk.in("bench_7.fulvex"));
    EXPECT_EQ(desk.proposed(Qt::Key_R), desk.in("bench_7.pdf"));
    EXPECT_EQ(desk.proposed(Qt::Key_T), desk.in("measurements.csv"));
}

TEST(Places, FilesAreProposedBesideTheProjectAndThenWhereOneWasWritten)
{
    PlacesDesk desk;
    QDir().mkpath(desk.in("work"));
    QDir().mkpath(desk.in("out"));
    desk.bench().save(desk.in("work/link.fulvex"), [] {});
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().path() == desk.in("work/link.fulvex"); }));
    EXPECT_EQ(desk.proposed(Qt::Key_R), desk.in("work/link.pdf"));
    desk.chooseFile(desk.in("out/table.csv"));
    desk.key(Qt::Key_T, Qt::ControlModifier);
    ASSERT_TRUE(test::waitFor([&] { return QFile::exists(desk.in("out/table.csv")); }));
    EXPECT_EQ(desk.proposed(Qt::Key_R), desk.in("out/link.pdf"));
    desk.bench().newProject(); // which has nothing to do with that
    EXPECT_EQ(desk.proposed(Qt::Key_T), QDir::home().filePath("measurements.csv"));
}
