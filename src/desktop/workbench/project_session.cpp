#include "project_session.h"

#include "error.h"
#include "project_file.h"

#include <utility>

namespace fulvex {

void ProjectSession::File::write(const Document &document, const std::filesystem::path &base, Progress &progress)
{
    const std::filesystem::path to = path.toStdString();
    if (!stamp.empty() && projectStamp(to) != stamp)
        throw Error(to.string(), "was written by another window or program since it was opened here",
                    "save under another name (Ctrl+Shift+S), or open it again");
    sha256 = path.endsWith(packedEnding) ? packProject(document, base, to, progress)
                                         : saveProject(document, base, to, progress);
    stamp = projectStamp(to);
}

void ProjectSession::begin(FilePtr file, const std::filesystem::path &base)
{
    ++m_number;
    m_file = std::move(file);
    m_base = base;
}

ProjectSession::FilePtr ProjectSession::fileFor(const QString &path) const
{
    return m_file->path == path ? m_file : std::make_shared<File>(File{path, {}, {}});
}

std::function<void()> ProjectSession::here(std::function<void()> done) const
{
    return [this, asked = m_number, done = std::move(done)] {
        if (asked == m_number) done();
    };
}

} // namespace fulvex
