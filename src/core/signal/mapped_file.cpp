#include "mapped_file.h"

#include "error.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

std::shared_ptr<const MappedFile> MappedFile::open(const std::filesystem::path &path)
{
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) throw Error(path.string(), std::strerror(errno), "check the path and the permission to read it");
    struct Closer {
        int handle;
        ~Closer() { ::close(handle); }
    } closer{handle};
    struct stat facts {};
    if (::fstat(handle, &facts) != 0) throw Error(path.string(), std::strerror(errno));
    if (!S_ISREG(facts.st_mode)) throw Error(path.string(), "is not a regular file", "name a capture file");

    std::shared_ptr<MappedFile> file(new MappedFile);
    file->m_path = path;
    file->m_size = std::size_t(facts.st_size);
    if (file->m_size > 0) {
        void *data = ::mmap(nullptr, file->m_size, PROT_READ, MAP_PRIVATE, handle, 0);
        if (data == MAP_FAILED) throw Error(path.string(), std::string("cannot be mapped: ") + std::strerror(errno));
        file->m_data = static_cast<const std::byte *>(data);
        file->m_released = std::vector<std::atomic<std::ptrdiff_t>>(file->m_size / windowSize + 1);
    }
    return file;
}

MappedFile::~MappedFile()
{
    if (m_data) ::munmap(const_cast<std::byte *>(m_data), m_size);
}

void MappedFile::release(std::span<const std::byte> part) const
{
    const auto first = std::size_t(part.data() - m_data), last = first + part.size();
    for (std::size_t window = first / windowSize; window * windowSize < last; ++window) {
        const std::size_t from = window * windowSize, to = std::min(from + windowSize, m_size);
        const auto here = std::ptrdiff_t(std::min(to, last) - std::max(from, first)), size = std::ptrdiff_t(to - from);
        // A pass may leave out a little; what it still adds afterwards brings the count back to nothing for the next.
        if (m_released[window].fetch_add(here) + here < size / 16 * 15) continue;
        m_released[window] -= size;
        ::madvise(const_cast<std::byte *>(m_data + from), to - from, MADV_DONTNEED); // windows begin on pages
    }
}

void MappedFile::announce(std::span<const std::byte> part) const
{
    static const auto page = std::size_t(::sysconf(_SC_PAGESIZE));
    const auto first = std::size_t(part.data() - m_data) / page * page;
    const std::size_t last = std::size_t(part.data() - m_data) + part.size();
    ::madvise(const_cast<std::byte *>(m_data + first), last - first, MADV_WILLNEED); // advice only: may fail
}

} // namespace fulvex
