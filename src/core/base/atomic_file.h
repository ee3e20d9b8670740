#pragma once

#include <filesystem>
#include <memory>
#include <string_view>
#include <vector>

namespace fulvex {

/// A file that appears whole or not at all: it is written where nobody sees it, and commit() syncs it and puts it in
/// the place of what was there, whose permissions it takes over. Where the path is a link, what it leads to is
/// replaced, not the link. Without a commit nothing happened, also when the program is killed. Every step throws Error.
class AtomicFile {
public:
    /// `cached`: what can be made anew, and is found to be damaged when it is read, need not outlive a power cut.
    enum class Kept { durably, cached };
    explicit AtomicFile(const std::filesystem::path &path, Kept kept = Kept::durably);
    ~AtomicFile();
    AtomicFile(const AtomicFile &) = delete;
    AtomicFile &operator=(const AtomicFile &) = delete;
    void write(std::string_view bytes);
    /// A name beside the file's own, for libraries that write by name. What a killed program left under such a name
    /// is cleaned away by the next one that needs one in the same folder.
    const std::string &temporary();
    void commit();

private:
    friend class FileSet;
    [[noreturn]] void fail(const char *step) const;
    void seal();   ///< its bytes are on disk, under temporary()
    void place();  ///< what was there is at temporary() then, where the file system can exchange the two
    void revert(); ///< place() undone, where it can be
    std::filesystem::path m_path, m_target;
    Kept m_kept;
    std::string m_temporary;
    int m_handle = -1;
    bool m_exchanged = false, m_fresh = false; ///< placed, over another file or where none was
};

/// Several files that belong together: all are put in place, one right behind the other, or none is. A reader who
/// comes between sees some of the new ones; what it can know a set by has to stand in the files.
class FileSet {
public:
    /// A file of the set, to be written; put in place in the order they are added.
    AtomicFile &add(const std::filesystem::path &path);
    void commit();

private:
    std::vector<std::unique_ptr<AtomicFile>> m_files;
};

/// Writes a file whole or not at all (see AtomicFile). Throws Error and leaves what was there untouched when any step
/// fails.
void writeFileAtomically(const std::filesystem::path &path, std::string_view bytes);

/// The whole of a text file; throws Error when it cannot be read, changes meanwhile, or is larger than `limit` bytes.
std::string readTextFile(const std::filesystem::path &path, std::size_t limit = 64u << 20);

} // namespace fulvex
