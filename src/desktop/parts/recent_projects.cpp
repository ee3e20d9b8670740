#include "recent_projects.h"

#include "error.h"
#include "fingerprint.h"
#include "user_folders.h"

#include <QFileInfo>
#include <QSettings>
#include <QThreadPool>

namespace fulvex {

namespace {

constexpr int kept = 8;
constexpr std::uintmax_t pictureBytes = 8 << 20;

/// Where a project's picture is kept; empty where it cannot be.
QString pictureOf(const QString &path)
{
    try {
        const auto folder = cacheFolder("pictures");
        return QString::fromStdString((folder / (sha256(path.toStdString()) + ".png")).string());
    } catch (const Error &) {
        return {};
    }
}

/// Fine lines fade as a picture is made smaller: takes all colours farther away from that of its ground.
void deepen(QImage &picture)
{
    picture.convertTo(QImage::Format_RGB32);
    const QRgb ground = picture.pixel(picture.width() / 2, 1);
    const auto farther = [](int value, int from) { return std::clamp(from + (value - from) * 9 / 5, 0, 255); };
    for (int y = 0; y < picture.height(); ++y) {
        auto *line = reinterpret_cast<QRgb *>(picture.scanLine(y));
        for (int x = 0; x < picture.width(); ++x)
            line[x] = qRgb(farther(qRed(line[x]), qRed(ground)), farther(qGreen(line[x]), qGreen(ground)),
                           farther(qBlue(line[x]), qBlue(ground)));
    }
}

} // namespace

QStringList recentPaths()
{
    return QSettings().value("recent").toStringList();
}

std::vector<RecentProject> recentProjects()
{
    std::vector<RecentProject> projects;
    for (const QString &path : recentPaths()) {
        if (!QFileInfo(path).isFile()) continue;
        RecentProject project{path, {}, QImage(pictureOf(path))};
        project.title = project.picture.text("title");
        if (project.title.isEmpty()) project.title = QFileInfo(path).completeBaseName();
        projects.push_back(std::move(project));
    }
    return projects;
}

void rememberProject(const QString &path)
{
    const QString whole = QFileInfo(path).absoluteFilePath();
    QStringList recent = recentPaths();
    recent.removeAll(whole);
    recent.prepend(whole);
    QSettings().setValue("recent", QStringList(recent.mid(0, kept)));
}

void rememberPicture(const QString &path, const QString &title, const QImage &picture)
{
    const QString file = pictureOf(QFileInfo(path).absoluteFilePath());
    if (file.isEmpty() || picture.isNull()) return;
    QThreadPool::globalInstance()->start([file, title, picture = QImage(picture)]() mutable {
        deepen(picture);
        picture.setText("title", title);
        const QString beside = file + ".part";
        if (!picture.save(beside, "PNG")) return; // it is only to please the eye
        std::error_code failure;
        std::filesystem::rename(beside.toStdString(), file.toStdString(), failure);
        try {
            trimCache(cacheFolder("pictures"), pictureBytes);
        } catch (const Error &) {
        }
    });
}

} // namespace fulvex
