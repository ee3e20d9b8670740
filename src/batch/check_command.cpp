#include "check_command.h"

#include "atomic_file.h"
#include "compared_json.h"
#include "count_text.h"
#include "difference_scale.h"
#include "engine.h"
#include "error.h"
#include "fingerprint.h"
#include "fulvex_version.h"
#include "json_text.h"
#include "moved_captures.h"
#include "plain_text.h"
#include "plan_course.h"
#include "plan_json.h"
#include "program_folders.h"
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

/// What plans of the project came to, done again with the captures of their newest attempts: whether it is the same.
/// `words`: what is not.
bool plansHold(const std::string &json, Document document, const fs::path &base, const CheckCommand &command,
               std::size_t &same, std::size_t &all, std::string &words)
{
    Progress progress;
    bool holds = true;
    for (const PlanRecord &record : planRecords(json, command.report)) {
        const PlanEntry *entry = findEntry(document.plans, record.id);
        if (!entry) throw Error(command.report, "tells of a plan that its project does not have", "make it anew");
        Document files; // of its steps, looked for as captures are
        std::vector<std::string *> places;
        for (AttemptEntry &attempt : document.attempts) {
            if (attempt.plan != record.id || newestAttempt(document, record.id, attempt.step) != &attempt) continue;
            for (std::size_t i = 0; i < attempt.captures.size(); ++i) {
                CaptureEntry capture;
                capture.id = attempt.id + "." + std::to_string(i);
                capture.file = AttemptEntry::parted(attempt.captures[i]).second;
                if (i < attempt.sha256.size()) capture.sha256 = attempt.sha256[i];
                files.captures.push_back(std::move(capture));
                places.push_back(&attempt.captures[i]);
            }
        }
        findCaptures(files, base, command.captures);
        for (std::size_t i = 0; i < places.size(); ++i)
            *places[i] = AttemptEntry::parted(*places[i]).first + "=" + fs::path(files.captures[i].file).string();
        Engine engine(shareFolder() / "masks", 0);
        const std::vector<StepOutcome> steps =
            workedDown(record.plan, (base / entry->file).lexically_normal().parent_path(), document, *entry, base,
                       engine, progress);
        all += record.tests.size();
        for (const PlanRecord::Test &told : record.tests) {
            const StepOutcome *step = findEntry(steps, told.step);
            const TestOutcome *now = step ? findEntry(step->tests, told.test) : nullptr;
            Comparison::Pair pair;
            pair.first.value = told.value;
            pair.first.uncertainty = told.uncertainty;
            if (now) pair.second.value = now->value, pair.second.uncertainty = now->uncertainty;
            if (now && told.verdict == verdictName(now->verdict) && isSame(pair)) {
                ++same;
                continue;
            }
            holds = false;
            words += record.id + ", step " + told.step + ", test " + told.test + ": it says " + told.verdict + "; " +
                     (now ? "its captures give " + measuredText(*now) + ", " + verdictName(now->verdict)
                          : std::string("there is no such test")) +
                     "\n";
        }
    }
    return holds;
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
    std::size_t all = found.pairs.size();
    holds = plansHold(json, document, base, command, same, all, words) && holds;
    words += countText(double(same)) + " of " + countText(double(all)) + " numbers are the same";
    if (told.version != fulvexVersion)
        words += " (made by version " + told.version + ", checked by " + fulvexVersion + ")";
    words += holds ? ". It holds.\n" : ". It does not hold.\n";
    if (!command.quiet) std::fputs(shownText(words, true).c_str(), stdout);
    return holds ? 0 : 1;
}

} // namespace fulvex
