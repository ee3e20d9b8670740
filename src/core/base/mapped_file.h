#pragma once

#include "mapping_guard.h"

#include <atomic>
#include <cstddef>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

/// What tells a file's contents from what stood or will stand at its path, as far as the file system keeps account:
/// where it lies on disk, how long it is, and when it was last written and changed. A copy that keeps the time of its
/// original differs by the time of change, which nobody can set.
struct FileIdentity {
    std::uint64_t device = 0, inode = 0, size = 0, links = 0;
    std::int64_t written = 0, changed = 0; ///< ns
    std::string text() const;              ///< for keys of caches
    bool operator==(const FileIdentity &) const = default;
};

/// A file mapped read-only. Its bytes are paged in when touched; large streaming passes give the pages behind them
/// back with release(), so that resident memory stays bounded while the system's page cache keeps the file. It is the
/// same file as long as it lives, whatever is put at its path meanwhile.
class MappedFile {
public:
    /// Throws Error when the file cannot be opened or is not a regular file: a pipe is never waited for. An empty file
    /// has no bytes.
    static std::shared_ptr<const MappedFile> open(const std::filesystem::path &path);
    ~MappedFile();
    MappedFile(const MappedFile &) = delete;
    MappedFile &operator=(const MappedFile &) = delete;

    std::span<const std::byte> bytes() const { return {m_data, m_size}; }
    const std::filesystem::path &path() const { return m_path; }
    int handle() const { return m_handle; }                     ///< open for reading
    const FileIdentity &identity() const { return m_identity; } ///< as it was opened
    /// Whether somebody has written to it or cut it short since it was opened, in words for an Error; empty: nobody
    /// did. What was read of it meanwhile may belong to neither state.
    std::string disturbance() const;
    /// Says that `part` (a part of bytes()) was read to its end. Each time that another 32 MiB were released, or all of
    /// it at once, every page of the file is dropped from this process: also those that somebody glanced at in between,
    /// and those being read, which come back at once. Seldom, since each drop interrupts every core. From any thread.
    void release(std::span<const std::byte> part) const;

    /// Says that `part` will be read soon, so that it is fetched meanwhile: for places far apart, whose fetching would
    /// otherwise be waited for one by one.
    void announce(std::span<const std::byte> part) const;

private:
    MappedFile() = default;
    std::filesystem::path m_path;
    int m_handle = -1;
    FileIdentity m_identity;
    const std::byte *m_data = nullptr;
    std::size_t m_size = 0;
    std::unique_ptr<MappingGuard> m_guard;
    static constexpr std::size_t mostKept = 32 << 20;
    mutable std::atomic<std::size_t> m_released = 0; ///< bytes, in all
};

/// As the file at a path is now; throws Error when there is none.
FileIdentity identityOf(const std::filesystem::path &path);

} // namespace fulvex
