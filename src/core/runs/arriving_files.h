#pragma once

#include <chrono>
#include <filesystem>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace fulvex {

/// Files of a folder that somebody writes to: each is handed out once, when its size and time have stayed as they are
/// for a while. What becomes of one afterwards (it shrinks, goes, is replaced) does not bring it again.
class ArrivingFiles {
public:
    using Instant = std::chrono::steady_clock::time_point;
    static constexpr std::chrono::milliseconds usualWait{1000};
    explicit ArrivingFiles(std::chrono::milliseconds settles = usualWait) : m_settles(settles) {}
    /// Those that are complete now, the oldest first and of one age by name, numbers by value; never again. Files that
    /// have not been written to for longer are complete at the first look. `files`: relative to `base`.
    std::vector<std::string> take(const std::vector<std::string> &files, const std::filesystem::path &base,
                                  Instant now);
    /// Was handed out before, perhaps by another process.
    void know(const std::string &file) { m_known.insert(file); }
    bool isKnown(const std::string &file) const { return m_known.contains(file); }
    /// It was handed out, and is not whole after all: it comes again when it has changed and settled, or was let alone
    /// for `patience`. False: it had its time, and does not come again.
    bool putBack(const std::string &file, const std::filesystem::path &base, Instant now);
    bool waits() const { return !m_seen.empty(); } ///< some are there that are not complete yet

private:
    struct Look {
        std::uintmax_t size = 0;
        std::filesystem::file_time_type written = std::filesystem::file_time_type::min();
        Instant since; ///< it was first seen so
        bool given = false;
    };
    /// Of all files that a capture is made of together; none where one is missing.
    static std::optional<Look> lookAt(const std::filesystem::path &file);
    static constexpr std::chrono::seconds patience{10};
    std::chrono::milliseconds m_settles;
    std::map<std::string, Look> m_seen;
    std::set<std::string> m_known;
};

} // namespace fulvex
