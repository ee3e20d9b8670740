#include "atomic_file.h"

#include "error.h"
#include "mapped_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

void writeFileAtomically(const std::filesystem::path &path, std::string_view bytes)
{
    std::string temporary = path.string() + ".XXXXXX";
    const int handle = ::mkstemp(temporary.data());
    if (handle < 0)
        throw Error(path.string(), std::string("cannot be written: ") + std::strerror(errno),
                    "check that its folder exists and may be written to");
    const auto fail = [&](const char *step) {
        const std::string reason = std::strerror(errno);
        ::close(handle);
        ::unlink(temporary.c_str());
        throw Error(path.string(), std::string(step) + " failed: " + reason, "the file that was there is untouched");
    };
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t wrote = ::write(handle, bytes.data() + done, bytes.size() - done);
        if (wrote < 0 && errno == EINTR) continue;
        if (wrote <= 0) fail("writing");
        done += std::size_t(wrote);
    }
    if (::fchmod(handle, 0644) != 0) fail("setting the permissions");
    if (::fsync(handle) != 0) fail("syncing");
    if (::rename(temporary.c_str(), path.c_str()) != 0) fail("renaming");
    ::close(handle);
}

std::string readTextFile(const std::filesystem::path &path, std::size_t limit)
{
    const auto file = MappedFile::open(path);
    if (file->bytes().size() > limit)
        throw Error(path.string(), std::to_string(file->bytes().size()) + " bytes are too many for this kind of file");
    return std::string(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
}

} // namespace fulvex
