#include "moved_captures.h"

#include "capture_reader.h"
#include "error.h"
#include "fingerprint.h"

namespace fulvex {

namespace fs = std::filesystem;

namespace {

constexpr int mostFiles = 20000;

/// Files below a folder, hidden ones and what may not be read left out.
std::vector<fs::path> filesBelow(const fs::path &folder, int depth, Progress &progress)
{
    std::vector<fs::path> files;
    std::error_code failure;
    constexpr auto options = fs::directory_options::skip_permission_denied;
    for (fs::recursive_directory_iterator each(folder, options, failure), end;
         !failure && each != end && files.size() < mostFiles; each.increment(failure)) {
        progress.advance(0);
        std::error_code gone;
        const bool hidden = each->path().filename().string().starts_with('.');
        if (each->is_directory(gone) && (hidden || each.depth() >= depth)) each.disable_recursion_pending();
        if (!hidden && each->is_regular_file(gone)) files.push_back(each->path());
    }
    return files;
}

/// Looks whether files are a capture, by their size where it is known, and only then by their contents.
class Likeness {
public:
    Likeness(const CaptureEntry &capture, Progress &progress) : m_capture(capture), m_progress(progress) {}
    bool isSame(const fs::path &file)
    {
        if (m_capture.sha256.empty()) return false;
        std::uintmax_t size = 0;
        try {
            for (const fs::path &one : captureFiles(file)) {
                std::error_code failure;
                size += fs::file_size(one, failure);
                if (failure) return false;
            }
            if (m_capture.bytes ? size != std::uintmax_t(*m_capture.bytes) : size > m_left) return false;
            m_left -= std::min(m_left, size);
            return sha256OfFiles(openCaptureFiles(file), m_progress) == m_capture.sha256;
        } catch (const Error &) {
            return false; // it cannot be read
        }
    }

private:
    const CaptureEntry &m_capture;
    Progress &m_progress;
    std::uintmax_t m_left = std::uintmax_t(1) << 30; ///< bytes that are read where an older document keeps no size
};

} // namespace

std::vector<MissingCapture> missingCaptures(const Document &document, const fs::path &base, Progress &progress)
{
    std::vector<MissingCapture> missing;
    for (const CaptureEntry &capture : document.captures) {
        std::error_code failure;
        if (!fs::exists(base / capture.file, failure)) missing.push_back({capture.id, base / capture.file, {}, false});
    }
    if (missing.empty()) return missing;
    std::vector<fs::path> near = filesBelow(base, 6, progress);
    const std::vector<fs::path> above = filesBelow(fs::absolute(base).parent_path(), 2, progress);
    near.insert(near.end(), above.begin(), above.end());
    for (MissingCapture &one : missing) {
        Likeness like(*findEntry(document.captures, one.id), progress);
        for (const fs::path &file : near) { // of the same name first
            if (file.filename() != one.wanted.filename()) continue;
            const bool same = like.isSame(file);
            if (one.found.empty() || same) one.found = file;
            if ((one.same = same)) break;
        }
        if (one.same) continue;
        for (const fs::path &file : near) { // renamed: the same kind of file with the same contents
            if (file.extension() != one.wanted.extension() || !like.isSame(file)) continue;
            one.found = file;
            one.same = true;
            break;
        }
    }
    return missing;
}

std::string keptPath(const fs::path &file, const fs::path &folder)
{
    const fs::path relative = file.lexically_relative(folder);
    return (relative.empty() || *relative.begin() == ".." ? fs::absolute(file) : relative).string();
}

} // namespace fulvex
