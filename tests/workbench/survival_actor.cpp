// survival-actor FOLDER SEED: works on FOLDER/p.fulvex as somebody would who saves, packs and exports all the time,
// until it is killed. Each edit has a number above all before, which is the document's title. What it did it writes to
// FOLDER/journal as it happens:
//   begun N      goes on with edit N, from what was left by a crash or else from the project
//   edit N MS    at this time
//   saved N NAME a file is written, as far as the program knows

#include "recovery.h"
#include "workbench.h"

#include <QApplication>
#include <QTest>
#include <chrono>
#include <fcntl.h>
#include <random>
#include <unistd.h>

using namespace fulvex;

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    app.setOrganizationName("Fulvex");
    app.setApplicationName("survival");
    if (argc != 3) return 2;
    const QString folder = argv[1];
    std::mt19937_64 random(std::stoull(argv[2]));
    const int journal = ::open((folder + "/journal").toUtf8(), O_WRONLY | O_CREAT | O_APPEND, 0644);
    const auto tell = [&](const QString &line) {
        const QByteArray bytes = (line + "\n").toUtf8();
        if (::write(journal, bytes.data(), std::size_t(bytes.size())) != bytes.size()) std::abort();
    };
    const auto now = [] {
        using namespace std::chrono;
        return duration_cast<milliseconds>(steady_clock::now().time_since_epoch()).count();
    };

    Workbench bench;
    Recovery recovery(bench);
    const auto numberOf = [](const Document &document) { return QString::fromStdString(document.title).toInt(); };
    const std::vector<Recovery::Left> left = Recovery::left();
    bench.openProject(folder + "/p.fulvex");
    for (const Recovery::Left &one : left) {
        if (numberOf(one.document) > numberOf(bench.document())) recovery.goOnWith(one, random() % 4 == 0);
    }
    for (const Recovery::Left &one : left) {
        if (numberOf(one.document) < numberOf(bench.document())) Recovery::discard(one); // an older state
    }
    tell(QString("begun %1").arg(numberOf(bench.document())));
    int number = int(std::stoul(argv[2])) * 10000; // never that of an earlier life
    const auto edit = [&](bool numbersToo) {
        bench.change("edit", [&](Document &document) {
            document.title = std::to_string(++number);
            if (numbersToo) document.channels[0].scale = 1 + 1e-6 * number;
        });
        tell(QString("edit %1 %2").arg(number).arg(now()));
    };
    edit(false);
    const auto saved = [&](const QString &name) {
        bench.save(folder + "/" + name, [&, name, n = number] { tell(QString("saved %1 %2").arg(n).arg(name)); });
    };
    const bool saves = random() % 2; // or it is all left to the copies
    while (true) {
        const int what = int(random() % (saves ? 24 : 20));
        if (what < 20) edit(what < 2);
        if (what == 20) saved("p.fulvex");
        if (what == 21) saved("w.fulvexpack");
        if (what == 22)
            bench.exportFile(folder + "/table.txt", [](const Results &results, const std::string &, Progress &) {
                return std::string(200000, 'x') + results.document->title + "\nend\n";
            });
        if (bench.held() && (what == 23 || what == 0)) bench.evaluate();
        QTest::qWait(int(random() % 12));
    }
}
