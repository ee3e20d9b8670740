#include "arriving_files.h"

#include "capture_reader.h"

#include <algorithm>
#include <cstring>
#include <tuple>

namespace fulvex {

namespace fs = std::filesystem;

std::optional<ArrivingFiles::Look> ArrivingFiles::lookAt(const fs::path &file)
{
    Look look;
    for (const fs::path &one : captureFiles(file)) {
        std::error_code failure;
        look.size += fs::file_size(one, failure);
        if (!failure) look.written = std::max(look.written, fs::last_write_time(one, failure));
        if (failure) return std::nullopt;
    }
    return look;
}

std::vector<std::string> ArrivingFiles::take(const std::vector<std::string> &files, const fs::path &base, Instant now)
{
    std::vector<std::pair<fs::file_time_type, std::string>> complete;
    std::map<std::string, Look> seen;
    for (const std::string &file : files) {
        if (m_known.contains(file)) continue;
        const auto there = lookAt(base / file);
        if (!there) continue; // gone again, or not all of it is there
        Look look = *there;
        look.since = now;
        const auto before = m_seen.find(file);
        if (before != m_seen.end() &&
            std::tie(look.size, look.written) == std::tie(before->second.size, before->second.written))
            look = before->second;
        const auto age = fs::file_time_type::clock::now() - look.written;
        const bool old = before == m_seen.end() && age > 2 * m_settles;
        const auto wait = look.given ? std::chrono::milliseconds(patience) : m_settles;
        if (look.size > 0 && (old || now - look.since >= wait)) complete.emplace_back(look.written, file);
        seen.emplace(file, look);
    }
    m_seen = std::move(seen);
    std::sort(complete.begin(), complete.end(), [](const auto &a, const auto &b) {
        return a.first != b.first ? a.first < b.first : strverscmp(a.second.c_str(), b.second.c_str()) < 0;
    });
    std::vector<std::string> taken;
    for (const auto &[written, file] : complete) {
        taken.push_back(file);
        m_known.insert(file);
    }
    return taken;
}

bool ArrivingFiles::putBack(const std::string &file, const fs::path &base, Instant now)
{
    const auto seen = m_seen.find(file);
    if (seen == m_seen.end()) return false;
    Look &look = seen->second;
    const auto there = lookAt(base / file);
    const bool same = there && there->written == look.written && there->size == look.size;
    if (same && (look.given || fs::file_time_type::clock::now() - look.written > patience)) return false;
    if (!look.given) look.since = now;
    look.given = true;
    m_known.erase(file);
    return true;
}

} // namespace fulvex
