#include "mapped_file.h"

#include "error.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

static FileIdentity identityFrom(const struct stat &facts)
{
    const auto nanoseconds = [](const timespec &time) {
        return std::int64_t(time.tv_sec) * 1'000'000'000 + time.tv_nsec;
    };
    return {std::uint64_t(facts.st_dev),   std::uint64_t(facts.st_ino), std::uint64_t(facts.st_size),
            std::uint64_t(facts.st_nlink), nanoseconds(facts.st_mtim),  nanoseconds(facts.st_ctim)};
}

std::string FileIdentity::text() const
{
    std::string text;
    for (const std::uint64_t part : {device, inode, size, std::uint64_t(written), std::uint64_t(changed)})
        text += std::to_string(part) + ":";
    return text;
}

FileIdentity identityOf(const std::filesystem::path &path)
{
    struct stat facts {};
    if (::stat(path.c_str(), &facts) != 0)
        throw Error(path.string(), std::strerror(errno), "check the path and the permission to read it");
    return identityFrom(facts);
}

/// A capture of many files may need more than a shell usually allows at first.
static void allowMoreFiles()
{
    rlimit limit{};
    ::getrlimit(RLIMIT_NOFILE, &limit);
    limit.rlim_cur = limit.rlim_max;
    ::setrlimit(RLIMIT_NOFILE, &limit);
}

static bool liesAt(const std::filesystem::path &path, const FileIdentity &file)
{
    struct stat facts {};
    return ::stat(path.c_str(), &facts) == 0 && facts.st_ino == file.inode && facts.st_dev == file.device;
}

std::shared_ptr<const MappedFile> MappedFile::open(const std::filesystem::path &path)
{
    constexpr int flags = O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY; // a pipe without a writer is not waited for
    std::shared_ptr<MappedFile> file(new MappedFile);
    file->m_handle = ::open(path.c_str(), flags);
    if (file->m_handle < 0 && errno == EMFILE) {
        allowMoreFiles();
        file->m_handle = ::open(path.c_str(), flags);
    }
    if (file->m_handle < 0)
        throw Error(path.string(), std::strerror(errno), "check the path and the permission to read it");
    struct stat facts {};
    if (::fstat(file->m_handle, &facts) != 0) throw Error(path.string(), std::strerror(errno));
    if (!S_ISREG(facts.st_mode)) throw Error(path.string(), "is not a regular file", "name a file that lies on a disk");
    file->m_path = path;
    file->m_identity = identityFrom(facts);
    file->m_size = std::size_t(facts.st_size);
    if (file->m_size > 0) {
        void *data = ::mmap(nullptr, file->m_size, PROT_READ, MAP_PRIVATE, file->m_handle, 0);
        if (data == MAP_FAILED) throw Error(path.string(), std::string("cannot be mapped: ") + std::strerror(errno));
        file->m_data = static_cast<const std::byte *>(data);
        file->m_guard = std::make_unique<MappingGuard>(data, file->m_size);
    }
    return file;
}

MappedFile::~MappedFile()
{
    m_guard.reset();
    if (m_data) ::munmap(const_cast<std::byte *>(m_data), m_size);
    if (m_handle >= 0) ::close(m_handle);
}

std::string MappedFile::disturbance() const
{
    struct stat facts {};
    if (::fstat(m_handle, &facts) != 0) return std::string("cannot be looked at any more: ") + std::strerror(errno);
    const FileIdentity now = identityFrom(facts);
    if (now.size < m_identity.size)
        return "was cut from " + std::to_string(m_identity.size) + " to " + std::to_string(now.size) +
               " bytes while it was read";
    if (m_guard && m_guard->torn())
        return "could not be read to its end: it was cut short meanwhile, or its disk fails";
    if (now.size == m_identity.size && now.written == m_identity.written &&
        (now.changed == m_identity.changed || now.links != m_identity.links || !liesAt(m_path, now)))
        return {}; // another name for it, another file in its place, or no name any more change no byte
    return "was written to while it was read";
}

void MappedFile::release(std::span<const std::byte> part) const
{
    const std::size_t before = m_released.fetch_add(part.size());
    const bool enough = (before + part.size()) / mostKept != before / mostKept;
    if (enough || part.size() == m_size) ::madvise(const_cast<std::byte *>(m_data), m_size, MADV_DONTNEED);
}

void MappedFile::announce(std::span<const std::byte> part) const
{
    static const auto page = std::size_t(::sysconf(_SC_PAGESIZE));
    const auto first = std::size_t(part.data() - m_data) / page * page;
    const std::size_t last = std::size_t(part.data() - m_data) + part.size();
    ::madvise(const_cast<std::byte *>(m_data + first), last - first, MADV_WILLNEED); // advice only: may fail
}

} // namespace fulvex
