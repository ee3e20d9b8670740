#include "atomic_file.h"

#include "error.h"
#include "mapped_file.h"
#include "process_tag.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <set>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

namespace fs = std::filesystem;

namespace {

constexpr std::string_view partPrefix = ".fulvex-", partEnding = ".part";

/// Where a path leads to, through links that may end at nothing.
fs::path targetOf(fs::path path)
{
    for (int links = 0; links < 40; ++links) {
        std::error_code failure;
        const fs::path to = fs::read_symlink(path, failure);
        if (failure) return path; // it is no link
        path = to.is_absolute() ? to : path.parent_path() / to;
    }
    throw Error(path.string(), "leads in a circle of links", "name the file itself");
}

fs::path folderOf(const fs::path &path)
{
    return path.has_parent_path() ? path.parent_path() : fs::path(".");
}

/// So that names in it outlive the power, where the file system can promise that.
void syncFolder(const fs::path &folder)
{
    if (const int handle = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); handle >= 0) {
        ::fsync(handle);
        ::close(handle);
    }
}

/// A name that no other process and no other file of this one has.
fs::path partIn(const fs::path &folder)
{
    static std::atomic<int> count = 0;
    return folder / (std::string(partPrefix) + processTag() + "." + std::to_string(++count) + std::string(partEnding));
}

void cleanParts(const fs::path &folder)
{
    std::error_code failure;
    for (fs::directory_iterator each(folder, failure), end; !failure && each != end; each.increment(failure)) {
        const std::string name = each->path().filename().string();
        // Also where the library that writes archives put an ending of its own behind it.
        if (!name.starts_with(partPrefix) || name.find(partEnding) == std::string::npos) continue;
        const std::string_view tag = std::string_view(name).substr(partPrefix.size());
        std::error_code gone;
        if (isOver(tag.substr(0, tag.find('.')))) fs::remove_all(each->path(), gone);
    }
}

} // namespace

AtomicFile::AtomicFile(const fs::path &path, Kept kept) : m_path(path), m_target(targetOf(path)), m_kept(kept)
{
    struct stat there {};
    const bool exists = ::stat(m_target.c_str(), &there) == 0;
    if (exists && !S_ISREG(there.st_mode))
        throw Error(path.string(), "cannot be written: it is no regular file", "choose another name");
    // Without a name where the file system knows that, so that nothing is left of it when the program is killed.
    m_handle = ::open(folderOf(m_target).c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, 0666);
    if (m_handle < 0) {
        m_temporary = partIn(folderOf(m_target)).string();
        m_handle = ::open(m_temporary.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, 0666);
    }
    if (m_handle < 0) {
        const int reason = errno;
        m_temporary.clear();
        throw Error(path.string(), std::string("cannot be written: ") + std::strerror(reason),
                    "check that its folder exists and may be written to");
    }
}

AtomicFile::~AtomicFile()
{
    if (m_handle >= 0) ::close(m_handle);
    if (!m_temporary.empty()) ::unlink(m_temporary.c_str());
}

void AtomicFile::fail(const char *step) const
{
    throw Error(m_path.string(), std::string(step) + " failed: " + std::strerror(errno),
                "the file that was there is untouched");
}

void AtomicFile::write(std::string_view bytes)
{
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t wrote = ::write(m_handle, bytes.data() + done, bytes.size() - done);
        if (wrote < 0 && errno == EINTR) continue;
        if (wrote <= 0) fail("writing");
        done += std::size_t(wrote);
    }
}

const std::string &AtomicFile::temporary()
{
    if (!m_temporary.empty()) return m_temporary;
    cleanParts(folderOf(m_target));
    const std::string self = "/proc/self/fd/" + std::to_string(m_handle), name = partIn(folderOf(m_target)).string();
    if (::linkat(AT_FDCWD, self.c_str(), AT_FDCWD, name.c_str(), AT_SYMLINK_FOLLOW) != 0) fail("naming it");
    m_temporary = name;
    return m_temporary;
}

void AtomicFile::seal()
{
    // A library that writes by name may have put another file in this one's place.
    if (!m_temporary.empty()) {
        ::close(m_handle);
        m_handle = ::open(m_temporary.c_str(), O_WRONLY | O_CLOEXEC);
        if (m_handle < 0) fail("opening it again");
    }
    struct stat there {};
    if (::stat(m_target.c_str(), &there) == 0) {
        [[maybe_unused]] const int ignored = ::fchown(m_handle, there.st_uid, there.st_gid); // as far as one may
        if (::fchmod(m_handle, there.st_mode & 07777) != 0) fail("setting the permissions");
    }
    if (m_kept == Kept::durably && ::fsync(m_handle) != 0) fail("syncing");
    temporary();
}

void AtomicFile::place()
{
    const char *from = m_temporary.c_str(), *to = m_target.c_str();
    struct stat there {};
    if (::stat(to, &there) == 0 && !S_ISREG(there.st_mode)) { // the kernel would exchange it all the same
        errno = S_ISDIR(there.st_mode) ? EISDIR : EEXIST;
        fail("renaming");
    }
    m_exchanged = ::renameat2(AT_FDCWD, from, AT_FDCWD, to, RENAME_EXCHANGE) == 0;
    if (m_exchanged) return;
    m_fresh = errno == ENOENT;
    if (::rename(from, to) != 0) fail("renaming");
    m_temporary.clear();
}

void AtomicFile::revert()
{
    if (m_exchanged)
        ::renameat2(AT_FDCWD, m_temporary.c_str(), AT_FDCWD, m_target.c_str(), RENAME_EXCHANGE);
    else if (m_fresh && m_temporary.empty())
        ::unlink(m_target.c_str());
}

void AtomicFile::commit()
{
    seal();
    place();
    if (m_kept == Kept::durably) syncFolder(folderOf(m_target));
}

AtomicFile &FileSet::add(const fs::path &path)
{
    return *m_files.emplace_back(std::make_unique<AtomicFile>(path));
}

void FileSet::commit()
{
    for (const auto &file : m_files) file->seal();
    try {
        for (const auto &file : m_files) file->place();
    } catch (const Error &) {
        for (const auto &file : m_files) file->revert();
        throw;
    }
    std::set<fs::path> folders;
    for (const auto &file : m_files) folders.insert(folderOf(file->m_target));
    for (const fs::path &folder : folders) syncFolder(folder);
}

void writeFileAtomically(const fs::path &path, std::string_view bytes)
{
    AtomicFile file(path);
    file.write(bytes);
    file.commit();
}

std::string readTextFile(const fs::path &path, std::size_t limit)
{
    constexpr int tries = 5; // somebody may just be saving it
    std::string why;
    for (int attempt = 0; attempt < tries; ++attempt) {
        const auto file = MappedFile::open(path);
        if (file->bytes().size() > limit)
            throw Error(path.string(),
                        std::to_string(file->bytes().size()) + " bytes are too many for this kind of file",
                        "at most " + std::to_string(limit) + " are read");
        std::string text(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
        why = file->disturbance();
        if (why.empty()) return text;
    }
    throw Error(path.string(), why, "read it again");
}

} // namespace fulvex
