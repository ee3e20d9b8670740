#include "row_sets.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "error.h"
#include "fingerprint.h"
#include "measurement_edits.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>
#include <algorithm>

namespace fulvex {

namespace {

QDir folder()
{
    return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/rows");
}

QString fileOf(const std::string &title)
{
    return folder().filePath(QString::fromStdString(sha256(title).substr(0, 16)) + ".json");
}

} // namespace

std::vector<RowSet> keptRowSets()
{
    constexpr qint64 most = 1 << 20; // bytes
    std::vector<RowSet> sets;
    for (const QFileInfo &info : folder().entryInfoList({"*.json"}, QDir::Files)) {
        QFile file(info.filePath());
        if (info.size() > most || !file.open(QIODevice::ReadOnly)) continue;
        try {
            sets.push_back(parseRowSet(file.readAll().toStdString(), info.fileName().toStdString()));
        } catch (const Error &) {
            continue;
        }
    }
    std::sort(sets.begin(), sets.end(), [](const RowSet &a, const RowSet &b) { return a.title < b.title; });
    return sets;
}

void keepRowSet(const RowSet &set)
{
    folder().mkpath(".");
    writeFileAtomically(fileOf(set.title).toStdString(), rowSetText(set));
}

void forgetRowSet(const std::string &title)
{
    QFile::remove(fileOf(title));
}

void layOn(Workbench &bench, const RowSet &set, const std::string &channel)
{
    std::vector<std::string> added;
    const bool taken =
        bench.change(QObject::tr("lay %1 on %2").arg(text(set.title), text(channel)), [&](Document &document) {
            added = layRowSet(
                document, set, channel,
                {nearestClock(bench, channel), nearestEye(bench, channel), otherChannel(bench.document(), channel)});
        });
    if (!taken) return;
    if (!added.empty()) bench.select({Selection::Kind::measurement, added.front()});
    if (const std::size_t lacking = set.rows.size() - added.size())
        emit bench.failed(
            QObject::tr("%1 of the %2 rows of \"%3\" need a clock, an eye or a second channel that %4 does "
                        "not have: add it, then lay the set again")
                .arg(lacking)
                .arg(set.rows.size())
                .arg(text(set.title), text(channel)));
}

} // namespace fulvex
