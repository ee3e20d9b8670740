#include "run_members.h"

#include "capture_reader.h"
#include "error.h"
#include "word_list.h"

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

/// Says what a member is called, and whether it counts.
void complete(const Document &document, RunMember &member)
{
    const bool several = hasRun(document);
    for (std::size_t i = 0; i < document.captures.size(); ++i) {
        const CaptureEntry &capture = document.captures[i];
        if (several && !capture.isRun()) continue; // the same every time
        enlist(member.name, memberName(member.files[i], member.segments[i]));
    }
    member.leftOut = leftOutOf(document, member);
}

/// A file, or one of its segments.
struct Named {
    std::string file;
    std::optional<int> segment;
};

std::vector<Named> namedBy(const CaptureEntry &capture, const fs::path &base)
{
    std::vector<std::string> files{capture.file};
    if (!capture.run.files.empty()) files = namedFiles(capture.run.files, base);
    std::vector<Named> named;
    for (const std::string &file : files) {
        if (!capture.import.segment) {
            named.push_back({file, {}});
            continue;
        }
        std::int64_t segments = 1;
        try {
            segments = segmentsIn(base / file, capture.import);
        } catch (const Error &) {
            // reading it will say what is wrong with it
        }
        for (std::int64_t i = 0; i < segments; ++i) named.push_back({file, int(i)});
    }
    return named;
}

} // namespace

bool hasRun(const Document &document)
{
    return std::any_of(document.captures.begin(), document.captures.end(),
                       [](const CaptureEntry &capture) { return capture.isRun(); });
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

std::string memberName(const std::string &file, std::optional<int> segment)
{
    return segment ? file + " #" + std::to_string(*segment + 1) : file;
}

std::string leftOutOf(const Document &document, const RunMember &member)
{
    for (std::size_t i = 0; i < document.captures.size(); ++i) {
        const Reasons &reasons = document.captures[i].run.leftOut;
        const auto why = reasons.find(memberName(member.files[i], member.segments[i]));
        if (why != reasons.end()) return why->second;
    }
    return {};
}

std::vector<RunMember> membersOf(const Document &document, const fs::path &base)
{
    std::vector<std::vector<Named>> lists;
    std::size_t count = 1;
    const CaptureEntry *most = nullptr;
    for (const CaptureEntry &capture : document.captures) {
        lists.push_back(namedBy(capture, base));
        const std::size_t own = lists.back().size();
        if (own == 0) return {};
        if (!capture.isRun() || own == 1 || (most && own == count)) continue;
        if (most)
            throw Error("captures",
                        "\"" + capture.id + "\" has " + std::to_string(own) + " files, \"" + most->id + "\" " +
                            std::to_string(count),
                        "give each as many, or one");
        most = &capture;
        count = own;
    }
    std::vector<RunMember> members(count);
    for (std::size_t i = 0; i < count; ++i) {
        for (const std::vector<Named> &list : lists) {
            const Named &one = list[std::min(i, list.size() - 1)];
            members[i].files.push_back(one.file);
            members[i].segments.push_back(one.segment);
        }
        complete(document, members[i]);
    }
    return members;
}

Document documentOf(const Document &document, const RunMember &member)
{
    Document one = document;
    for (std::size_t i = 0; i < one.captures.size(); ++i) {
        CaptureEntry &capture = one.captures[i];
        capture.import.segment = member.segments[i];
        if (capture.file == member.files[i]) continue;
        capture.file = member.files[i];
        capture.sha256.clear();
        capture.bytes.reset();
    }
    return one;
}

RunMember ownMember(const Document &document)
{
    RunMember own;
    for (const CaptureEntry &capture : document.captures) {
        own.files.push_back(capture.file);
        own.segments.push_back(capture.import.segment);
    }
    complete(document, own);
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
