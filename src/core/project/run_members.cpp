#include "run_members.h"

#include "error.h"

#include <algorithm>
#include <cstring>
#include <glob.h>
#include <memory>
#include <set>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

bool isWanted(const fs::path &file)
{
    const std::string name = file.filename();
    if (name.starts_with('.') || name.ends_with('~')) return false;
    const std::string ending = file.extension();
    std::error_code failure;
    if (ending == ".sigmf-data" && fs::exists(fs::path(file).replace_extension(".sigmf-meta"), failure)) return false;
    return ending != ".part" && ending != ".tmp" && ending != ".partial";
}

bool byNumbers(const std::string &a, const std::string &b)
{
    return strverscmp(a.c_str(), b.c_str()) < 0;
}

std::vector<std::string> filesIn(const fs::path &folder, const std::string &prefix)
{
    std::vector<std::string> files;
    std::error_code failure;
    for (fs::directory_iterator one(folder, failure), end; !failure && one != end; one.increment(failure)) {
        if (one->is_regular_file(failure) && isWanted(one->path()))
            files.push_back((fs::path(prefix) / one->path().filename()).string());
    }
    std::sort(files.begin(), files.end(), byNumbers);
    return files;
}

std::vector<std::string> matching(const std::string &pattern, const fs::path &base)
{
    const std::string whole = (base / pattern).string(), root = (base / "").string();
    glob_t found{};
    const std::unique_ptr<glob_t, decltype(&globfree)> freed(&found, &globfree);
    std::vector<std::string> files;
    if (glob(whole.c_str(), GLOB_NOSORT, nullptr, &found) != 0) return files;
    for (std::size_t i = 0; i < found.gl_pathc; ++i) {
        std::string file = found.gl_pathv[i];
        std::error_code failure;
        if (!fs::is_regular_file(file, failure) || !isWanted(file)) continue;
        if (!fs::path(pattern).is_absolute() && file.starts_with(root)) file.erase(0, root.size());
        files.push_back(std::move(file));
    }
    std::sort(files.begin(), files.end(), byNumbers);
    return files;
}

/// Why a file does not count, unless there is a reason already.
std::string leftOutOf(const CaptureEntry &capture, const std::string &file, const std::string &already)
{
    const auto why = capture.run.leftOut.find(file);
    return !already.empty() || why == capture.run.leftOut.end() ? already : why->second;
}

/// Those that differ from time to time, one behind the other; all where none does.
std::string nameOf(const Document &document, const std::vector<std::string> &files)
{
    const bool several = hasRun(document);
    std::string name;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (several && document.captures[i].run.files.empty()) continue;
        name += (name.empty() ? "" : ", ") + files[i];
    }
    return name;
}

} // namespace

bool hasRun(const Document &document)
{
    return std::any_of(document.captures.begin(), document.captures.end(),
                       [](const CaptureEntry &capture) { return !capture.run.files.empty(); });
}

std::vector<std::string> namedFiles(const std::vector<std::string> &list, const fs::path &base)
{
    std::vector<std::string> files;
    std::set<std::string> known;
    for (const std::string &one : list) {
        std::error_code failure;
        std::vector<std::string> some{one};
        if (fs::is_directory(base / one, failure))
            some = filesIn(base / one, one);
        else if (one.find_first_of("*?[") != std::string::npos && !fs::exists(base / one, failure))
            some = matching(one, base);
        for (std::string &file : some)
            if (known.insert(file).second) files.push_back(std::move(file));
    }
    return files;
}

std::vector<RunMember> membersOf(const Document &document, const fs::path &base)
{
    std::vector<std::vector<std::string>> lists;
    std::size_t count = 1;
    const CaptureEntry *most = nullptr;
    for (const CaptureEntry &capture : document.captures) {
        const auto &run = capture.run.files;
        lists.push_back(run.empty() ? std::vector{capture.file} : namedFiles(run, base));
        if (lists.back().empty()) return {};
        if (run.empty() || lists.back().size() == 1 || (most && lists.back().size() == count)) continue;
        if (most)
            throw Error("captures",
                        "\"" + capture.id + "\" has " + std::to_string(lists.back().size()) + " files, \"" + most->id +
                            "\" " + std::to_string(count),
                        "give each as many, or one");
        most = &capture;
        count = lists.back().size();
    }
    std::vector<RunMember> members(count);
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t c = 0; c < lists.size(); ++c) {
            members[i].files.push_back(lists[c][std::min(i, lists[c].size() - 1)]);
            members[i].leftOut = leftOutOf(document.captures[c], members[i].files.back(), members[i].leftOut);
        }
        members[i].name = nameOf(document, members[i].files);
    }
    return members;
}

Document documentOf(const Document &document, const RunMember &member)
{
    Document one = document;
    for (std::size_t i = 0; i < one.captures.size(); ++i) {
        if (one.captures[i].file == member.files[i]) continue;
        one.captures[i].file = member.files[i];
        one.captures[i].sha256.clear();
        one.captures[i].bytes.reset();
    }
    return one;
}

RunMember ownMember(const Document &document)
{
    RunMember own;
    for (const CaptureEntry &capture : document.captures) {
        own.files.push_back(capture.file);
        own.leftOut = leftOutOf(capture, capture.file, own.leftOut);
    }
    own.name = nameOf(document, own.files);
    return own;
}

std::optional<int> stopAt(const Document &document)
{
    std::optional<int> least;
    for (const CaptureEntry &capture : document.captures)
        if (capture.run.stopAt) least = std::min(least.value_or(*capture.run.stopAt), *capture.run.stopAt);
    return least;
}

} // namespace fulvex
