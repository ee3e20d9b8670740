#include "check_command.h"

#include "atomic_file.h"
#include "compared_json.h"
#include "count_text.h"
#include "difference_scale.h"
#include "error.h"
#include "fingerprint.h"
#include "fulvex_version.h"
#include "json_text.h"
#include "moved_captures.h"
#include "plain_text.h"
#include "report_document.h"
#include "report_seal.h"
#include "result_file.h"
#include "same_numbers.h"

#include <cstdio>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

/// Files that lie beside a results.json and are not as it says.
std::vector<std::string> changedBeside(const std::string &json, const fs::path &folder)
{
    std::vector<std::string> changed;
    const auto parsed = parseJson(json, folder.string());
    if (!parsed.is_object() || !parsed.contains("files") || !parsed["files"].is_object()) return changed;
    for (const auto &[name, sha] : parsed["files"].items()) {
        const fs::path file = folder / fs::path(name).filename();
        std::error_code failure;
        if (!fs::exists(file, failure) || !sha.is_string()) continue;
        if (sha256(readTextFile(file)) != sha.get<std::string>()) changed.push_back(name);
    }
    return changed;
}

/// Captures that are not where the project says are looked for by their fingerprints, below the report's folder and
/// another one. Throws Error for those that are nowhere.
void findCaptures(Document &document, const fs::path &base, const std::string &folder)
{
    Progress progress;
    std::vector<fs::path> places{base};
    if (!folder.empty()) places.insert(places.begin(), fs::absolute(folder));
    for (const fs::path &place : places) {
        for (CaptureEntry &capture : document.captures) { // where it says, or there; else it is missing there
            std::error_code failure;
            for (const fs::path &folderOfIt : {base, place})
                if (const fs::path own = folderOfIt / capture.file; fs::exists(own, failure)) {
                    capture.file = own;
                    break;
                }
        }
        for (const MissingCapture &missing : missingCaptures(document, place, progress))
            if (missing.same)
                if (CaptureEntry *capture = findEntry(document.captures, missing.id)) capture->file = missing.found;
    }
    for (const CaptureEntry &capture : document.captures) {
        std::error_code failure;
        if (!capture.file.empty() && !fs::exists(base / capture.file, failure))
            throw Error(capture.file, "is not there: capture \"" + capture.id + "\"",
                        "name the folder that it lies in by --captures");
    }
}

} // namespace

int check(const CheckCommand &command)
{
    const std::string text = readTextFile(command.report);
    const bool report = isReport(text);
    const std::string json = report ? resultsInReport(text, command.report) : text;
    const ComparedResult told = comparedOfJson(json, command.report);
    const fs::path base = fs::absolute(command.report).parent_path();
    const bool whole = isSealWhole(text);
    const std::vector<std::string> beside = report ? std::vector<std::string>() : changedBeside(json, base);
    Document document = documentOfResults(json, command.report);
    findCaptures(document, base, command.captures);
    Progress progress;
    const ResultFile now = computed(document, base, command.report, progress);

    std::string words;
    bool holds = whole && beside.empty();
    words += whole ? "The seal is whole: nothing was changed since it was made.\n"
             : text.find(sealMark) == std::string::npos
                 ? "It has no seal: it is of an early version. Make it anew to have one.\n"
                 : "The seal is broken: it was changed after it was made, or by hand.\n";
    for (const std::string &name : beside) words += name + " beside it was changed after it was made.\n";
    const Comparison found = compared(told, now.numbers);
    for (const std::string &id : found.otherCaptures) {
        holds = false;
        words += "Capture " + id + " is another file than it was made from.\n";
    }
    std::size_t same = 0;
    for (const Comparison::Pair &pair : found.pairs) {
        if (isSame(pair)) {
            ++same;
            continue;
        }
        holds = false;
        words += titleOf(pair.first) + " (" + pair.first.id + "): it says " + comparedText(pair.first) + ", " +
                 verdictName(pair.first.verdict) + "; its captures give " + comparedText(pair.second) + ", " +
                 verdictName(pair.second.verdict) + "\n";
    }
    for (const std::string &id : found.onlyFirst) words += id + " is in it alone.\n";
    for (const std::string &id : found.onlySecond) words += id + " is not in it.\n";
    holds = holds && found.onlyFirst.empty() && found.onlySecond.empty() && now.unread.empty();
    for (const std::string &why : now.unread) words += why + "\n";
    words += countText(double(same)) + " of " + countText(double(found.pairs.size())) + " numbers are the same";
    if (told.version != fulvexVersion)
        words += " (made by version " + told.version + ", checked by " + fulvexVersion + ")";
    words += holds ? ". It holds.\n" : ". It does not hold.\n";
    if (!command.quiet) std::fputs(shownText(words, true).c_str(), stdout);
    return holds ? 0 : 1;
}

} // namespace fulvex
