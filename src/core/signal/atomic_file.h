#pragma once

#include <filesystem>
#include <string_view>

namespace fulvex {

/// A file that appears whole or not at all: it is written under a temporary name beside its own, and commit() syncs it
/// and renames it over what was there. Without a commit nothing happened. Every step throws Error.
class AtomicFile {
public:
    explicit AtomicFile(const std::filesystem::path &path);
    ~AtomicFile();
    AtomicFile(const AtomicFile &) = delete;
    AtomicFile &operator=(const AtomicFile &) = delete;
    void write(std::string_view bytes);
    /// For libraries that write by name.
    const std::string &temporary() const { return m_temporary; }
    void commit();

private:
    [[noreturn]] void fail(const char *step) const;
    std::filesystem::path m_path;
    std::string m_temporary;
    int m_handle = -1;
    bool m_committed = false;
};

/// Writes a file whole or not at all: to a temporary file beside it, synced, then renamed over it. Throws Error and
/// leaves what was there untouched when any step fails.
void writeFileAtomically(const std::filesystem::path &path, std::string_view bytes);

/// The whole of a text file; throws Error when it cannot be read or is larger than `limit` bytes.
std::string readTextFile(const std::filesystem::path &path, std::size_t limit = 64u << 20);

} // namespace fulvex
