// Copies that lie there for the case of a crash, while a window goes from one document to another.

#include "document_json.h"
#include "recovery.h"
#include "wait_for.h"
#include "workbench.h"

#include <QDir>
#include <QStandardPaths>
#include <gtest/gtest.h>

using namespace fulvex;

TEST(RecoveryOfTheWorkbench, TheCopyOfOneDocumentDoesNotLetGoOfAnother)
{
    QDir unsaved(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved");
    unsaved.removeRecursively();
    unsaved.mkpath(".");
#ifdef __SANITIZE_THREAD__
    constexpr int sheets = 40; // where all takes ten times as long
#else
    constexpr int sheets = 400; // slow to write, and nothing to compute
#endif
    constexpr int tiles = 10;
    constexpr qint64 letters = 10000, size = sheets * tiles * letters;
    const auto leave = [&](const QString &name, const std::string &title, int many) {
        Document document;
        document.title = title;
        for (int i = 0; i < many; ++i) {
            document.sheets.emplace_back().id = "s" + std::to_string(i);
            for (int k = 0; k < tiles; ++k) {
                document.sheets.back().tiles.push_back({.id = "t" + std::to_string(i * tiles + k),
                                                        .kind = "words",
                                                        .row = k,
                                                        .words = std::string(letters, 'x')});
            }
        }
        QFile file(unsaved.filePath(name)); // of a process that runs no more
        ASSERT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(QByteArray::fromStdString("\n" + documentText(document)));
    };
    leave("before-999999999-1-1", "small", 0);
    leave("before-999999999-1-2", "large", sheets);
    {
        Workbench bench;
        Recovery recovery(bench);
        const std::vector<Recovery::Left> left = Recovery::left();
        ASSERT_EQ(left.size(), 2u);
        const std::size_t large = left[0].document.title == "small" ? 1 : 0;
        recovery.goOnWith(left[1 - large], false);
        recovery.goOnWith(left[large], false);
        const auto kept = [&] { // whatever its name
            qint64 most = 0;
            for (const QFileInfo &one : unsaved.entryInfoList(QDir::Files)) most = std::max(most, one.size());
            return most;
        };
        bool always = true;
        EXPECT_TRUE(test::waitFor([&] {
            always = always && kept() > size;
            return !QFile::exists(left[large].file);
        }));
        EXPECT_TRUE(always && kept() > size) << "it was thrown away before there was another copy";
        EXPECT_TRUE(QFile::exists(left[1 - large].file)); // nothing is known about it
        bench.undoStack().clear();
    }
    unsaved.removeRecursively();
}
