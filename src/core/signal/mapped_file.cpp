#include "mapped_file.h"

#include "error.h"

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
    }
    return file;
}

MappedFile::~MappedFile()
{
    if (m_data) ::munmap(const_cast<std::byte *>(m_data), m_size);
}

void MappedFile::release(std::span<const std::byte> part) const
{
    const auto page = std::uintptr_t(::sysconf(_SC_PAGESIZE));
    const auto from = (std::uintptr_t(part.data()) + page - 1) / page * page;
    const auto to = std::uintptr_t(part.data() + part.size()) / page * page;
    if (to > from) ::madvise(reinterpret_cast<void *>(from), to - from, MADV_DONTNEED);
}

} // namespace fulvex
