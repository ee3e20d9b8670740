#pragma once

#include <QImage>
#include <QString>
#include <QStringList>
#include <vector>

namespace fulvex {

/// A project that was opened or saved here lately.
struct RecentProject {
    QString path, title;
    QImage picture; ///< of the sheet it showed last; null where there is none
};

/// Paths of what was opened and saved lately, the latest first; not all need be there any more.
QStringList recentPaths();
/// Those of them that are still there, with what was kept of them.
std::vector<RecentProject> recentProjects();
/// Puts a project first.
void rememberProject(const QString &path);
/// Keeps what a project looks like, beside the interface, in the cache folder.
void rememberPicture(const QString &path, const QString &title, const QImage &picture);

} // namespace fulvex
