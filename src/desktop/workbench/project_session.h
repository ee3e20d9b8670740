#pragma once

#include "document.h"
#include "progress.h"

#include <QString>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <string>

namespace fulvex {

/// One project from its opening or making to the next one's: its number, by which what belongs to another is known,
/// and its file, as this window knows it.
class ProjectSession {
public:
    /// Stamp and fingerprint are read and written by errands alone, which run one after the other.
    struct File {
        QString path;       ///< empty: never saved
        std::string stamp;  ///< as it was opened or last saved here
        std::string sha256; ///< of the document's text in it
        /// Writes the document there, packed with its captures by the path's ending; `base`: folder that they are
        /// relative to. Throws Error, also when somebody else wrote the file since.
        void write(const Document &document, const std::filesystem::path &base, Progress &progress);
    };
    using FilePtr = std::shared_ptr<File>;

    std::uint64_t number() const { return m_number; }
    const FilePtr &file() const { return m_file; }
    const std::filesystem::path &base() const { return m_base; } ///< of relative capture files
    /// Another one.
    void begin(FilePtr file, const std::filesystem::path &base);
    /// The same project lies in another file from here on.
    void moveTo(FilePtr file) { m_file = std::move(file); }
    /// The file to save under a path: the project's own, or a new one.
    FilePtr fileFor(const QString &path) const;
    /// Calls `done` only while the session is the one that it was asked in.
    std::function<void()> here(std::function<void()> done) const;

private:
    std::uint64_t m_number = 0;
    FilePtr m_file = std::make_shared<File>();
    std::filesystem::path m_base = std::filesystem::current_path();
};

} // namespace fulvex
