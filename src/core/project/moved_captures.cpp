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

bool hasFingerprint(const fs::path &file, const std::string &sha, Progress &progress)
{
    if (sha.empty()) return false;
    try {
        return sha256OfFiles(captureFiles(file), progress) == sha;
    } catch (const Error &) {
        return false; // it cannot be read
    }
}

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
        const std::string &sha = findEntry(document.captures, one.id)->sha256;
        for (const fs::path &file : near) { // of the same name first
            if (file.filename() != one.wanted.filename()) continue;
            const bool same = hasFingerprint(file, sha, progress);
            if (one.found.empty() || same) one.found = file;
            if ((one.same = same)) break;
        }
        if (one.same || sha.empty()) continue;
        for (const fs::path &file : near) { // renamed: the same kind of file with the same contents
            if (file.extension() != one.wanted.extension() || !hasFingerprint(file, sha, progress)) continue;
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
