#include "compare_command.h"

#include "atomic_file.h"
#include "compared_json.h"
#include "engine.h"
#include "error.h"
#include "fulvex_version.h"
#include "mapped_file.h"
#include "number_text.h"
#include "plain_text.h"
#include "project_file.h"
#include "report_files.h"
#include "run_gathering.h"
#include "share_folder.h"
#include "table_text.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

/// The numbers of a project now; of a run of all its captures that are there and can be read.
Results resultsOf(const OpenedProject &project, const std::string &name)
{
    Progress progress;
    if (!hasRun(project.document)) {
        Engine engine(shareFolder() / "masks", 0);
        Results results = engine.evaluate(project.document, project.base, {.fingerprints = true}, progress);
        if (const std::string error = results.firstError(); !error.empty()) throw Error("", error);
        return results;
    }
    Document now = project.document;
    for (CaptureEntry &capture : now.captures) capture.run.watched = false; // what comes later is not waited for
    RunGathering run(shareFolder() / "masks");
    run.follow(now, project.base);
    run.look();
    while (run.hasNext()) run.takeNext(progress);
    for (const auto &[member, why] : run.unread())
        std::fprintf(stderr, "left out: %s: %s\n", shownText(name).c_str(), shownText(why).c_str());
    std::optional<Results> all = run.all();
    if (!all) throw Error(name, "has no capture that can be read", "see which files \"captures\" names");
    return std::move(*all);
}

/// Of a project, or of what a report says.
ComparedResult sideOf(const std::string &name)
{
    std::error_code failure;
    constexpr std::uintmax_t most = 256 << 20; // bytes of a results.json
    if (const auto size = fs::file_size(name, failure); !failure && size <= most && !isPackedProject(name)) {
        const auto file = MappedFile::open(name);
        const std::string text(reinterpret_cast<const char *>(file->bytes().data()), file->bytes().size());
        if (isResultsJson(text)) return comparedOfJson(text, name);
    }
    Progress progress;
    const OpenedProject project = openProject(name, progress);
    return comparedOf(resultsOf(project, name), name, fulvexVersion);
}

std::string valueWords(const ComparedNumber &number)
{
    if (number.value && number.unit.empty() && *number.value == std::floor(*number.value))
        return fixedText(*number.value, 0); // a count
    return number.value ? quantityWithUncertainty(*number.value, number.unit, number.uncertainty) : "—";
}

std::string listed(const std::vector<std::string> &ids)
{
    std::string words;
    for (const std::string &id : ids) words += (words.empty() ? "" : ", ") + id;
    return words;
}

std::string movedWords(const Comparison &comparison, const SettingDifference &setting)
{
    const std::vector<std::string> moved = comparison.movedBy(setting);
    return moved.empty() ? "nothing, of " + std::to_string(setting.rows.size()) + " that stand on it" : listed(moved);
}

void print(const Comparison &comparison)
{
    const auto isLeft = [](std::size_t) { return true; };
    std::string text =
        "A  " + comparison.firstName + "\nB  " + comparison.secondName + "\n\n" + summaryOf(comparison) + "\n";
    if (comparison.firstVersion != comparison.secondVersion)
        text += "Made by other versions: A " + comparison.firstVersion + ", B " + comparison.secondVersion + ".\n";
    if (!comparison.settings.empty()) {
        std::vector<std::vector<std::string>> lines{{"set differently", "A", "B", "moves"}};
        for (const SettingDifference &one : comparison.settings)
            lines.push_back({one.setting + " of " + one.of, one.first, one.second, movedWords(comparison, one)});
        text += "\n" + alignedText(lines, isLeft);
    }
    std::vector<std::vector<std::string>> lines{{"number", "A", "B", "B − A", "in u", ""}};
    for (const auto *pairs : {&comparison.rows, &comparison.masks}) {
        for (const Comparison::Pair &pair : *pairs) {
            std::string remark = pair.differs() ? pair.setDifferently ? "set differently" : "differs" : "";
            if (pair.verdictDiffers())
                remark += std::string(remark.empty() ? "" : ", ") + verdictName(pair.first.verdict) + " → " +
                          verdictName(pair.second.verdict);
            lines.push_back({pair.first.id, valueWords(pair.first), valueWords(pair.second),
                             pair.difference ? quantityText(*pair.difference, pair.first.unit, pair.uncertainty) : "—",
                             pair.times ? fixedText(*pair.times, 1) : "—", remark});
        }
    }
    text += "\n" + alignedText(lines, isLeft);
    if (!comparison.onlyFirst.empty()) text += "in A alone: " + listed(comparison.onlyFirst) + "\n";
    if (!comparison.onlySecond.empty()) text += "in B alone: " + listed(comparison.onlySecond) + "\n";
    if (!comparison.otherCaptures.empty())
        text += "captures that are others, or not known to be the same: " + listed(comparison.otherCaptures) + "\n";
    std::fputs(shownText(text, true).c_str(), stdout);
}

} // namespace

int compare(const CompareCommand &command)
{
    makeFolder(command.out, "--out");
    const Comparison comparison = compared(sideOf(command.first), sideOf(command.second));
    if (!command.out.empty())
        writeFileAtomically(fs::path(command.out) / "comparison.json", comparisonJson(comparison));
    if (command.out.empty() && !command.quiet) print(comparison);
    return comparison.differs() ? 1 : 0;
}

} // namespace fulvex
