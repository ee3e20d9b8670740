#include "kept_files.h"

#include "atomic_file.h"
#include "fingerprint.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>

namespace fulvex {

static QDir folderOf(const QString &kind)
{
    return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/" + kind);
}

static QString fileOf(const QString &kind, const std::string &title)
{
    return folderOf(kind).filePath(QString::fromStdString(sha256(title).substr(0, 16)) + ".json");
}

std::vector<KeptFile> keptFiles(const QString &kind)
{
    constexpr qint64 most = 1 << 20; // bytes
    std::vector<KeptFile> files;
    for (const QFileInfo &info : folderOf(kind).entryInfoList({"*.json"}, QDir::Files)) {
        QFile file(info.filePath());
        if (info.size() > most || !file.open(QIODevice::ReadOnly)) continue;
        files.push_back({info.fileName().toStdString(), file.readAll().toStdString()});
    }
    return files;
}

void keepFile(const QString &kind, const std::string &title, const std::string &text)
{
    folderOf(kind).mkpath(".");
    writeFileAtomically(fileOf(kind, title).toStdString(), text);
}

void forgetFile(const QString &kind, const std::string &title)
{
    QFile::remove(fileOf(kind, title));
}

} // namespace fulvex
