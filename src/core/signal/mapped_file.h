#pragma once

#include <atomic>
#include <cstddef>
#include <filesystem>
#include <memory>
#include <span>
#include <vector>

namespace fulvex {

/// A file mapped read-only. Its bytes are paged in when touched; large streaming passes give the pages behind them
/// back with release(), so that resident memory stays bounded while the system's page cache keeps the file.
class MappedFile {
public:
    /// Throws Error when the file cannot be opened or is not a regular file. An empty file has no bytes.
    static std::shared_ptr<const MappedFile> open(const std::filesystem::path &path);
    ~MappedFile();
    MappedFile(const MappedFile &) = delete;
    MappedFile &operator=(const MappedFile &) = delete;

    std::span<const std::byte> bytes() const { return {m_data, m_size}; }
    const std::filesystem::path &path() const { return m_path; }
    /// Says that `part` (a part of bytes()) was read to its end. Once nearly as much was released in a window of the
    /// file as the window is long, its pages are dropped from this process; reading them again is allowed. By windows,
    /// since each drop interrupts every core. From any thread.
    void release(std::span<const std::byte> part) const;

    /// Says that `part` will be read soon, so that it is fetched meanwhile: for places far apart, whose fetching would
    /// otherwise be waited for one by one.
    void announce(std::span<const std::byte> part) const;

private:
    MappedFile() = default;
    std::filesystem::path m_path;
    const std::byte *m_data = nullptr;
    std::size_t m_size = 0;
    static constexpr std::size_t windowSize = 2 << 20;
    mutable std::vector<std::atomic<std::ptrdiff_t>> m_released; ///< bytes, by window
};

} // namespace fulvex
