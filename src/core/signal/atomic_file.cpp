#include "atomic_file.h"

#include "error.h"
#include "mapped_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

AtomicFile::AtomicFile(const std::filesystem::path &path) : m_path(path), m_temporary(path.string() + ".XXXXXX")
{
    m_handle = ::mkstemp(m_temporary.data());
    if (m_handle < 0)
        throw Error(path.string(), std::string("cannot be written: ") + std::strerror(errno),
                    "check that its folder exists and may be written to");
}

AtomicFile::~AtomicFile()
{
    if (m_handle >= 0) ::close(m_handle);
    if (!m_committed) ::unlink(m_temporary.c_str());
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

void AtomicFile::commit()
{
    // A library that writes by name may have put another file in this one's place.
    ::close(m_handle);
    m_handle = ::open(m_temporary.c_str(), O_WRONLY | O_CLOEXEC);
    if (m_handle < 0) fail("opening it again");
    if (::fchmod(m_handle, 0644) != 0) fail("setting the permissions");
    if (::fsync(m_handle) != 0) fail("syncing");
    if (::rename(m_temporary.c_str(), m_path.c_str()) != 0) fail("renaming");
    m_committed = true;
}

void writeFileAtomically(const std::filesystem::path &path, std::string_view bytes)
{
    AtomicFile file(path);
    file.write(bytes);
    file.commit();
}

std::string readTextFile(const std::filesystem::path &path, std::size_t limit)
{
    const auto file = MappedFile::open(path);
    if (file->bytes().size() > limit)
        throw Error(path.string(), std::to_string(file->bytes().size()) + " bytes are too many for this kind of file");
    return std::string(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
}

} // namespace fulvex
