#include "compare_command.h"

#include "atomic_file.h"
#include "compared_json.h"
#include "difference_scale.h"
#include "named_files.h"
#include "number_text.h"
#include "plain_text.h"
#include "project_file.h"
#include "report_files.h"
#include "result_file.h"
#include "table_text.h"
#include "word_list.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

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
    std::size_t alike = 0;
    for (const Comparison::Pair &pair : comparison.pairs) {
        if (!pair.matters) {
            ++alike;
            continue;
        }
        std::string remark = pair.differs() ? pair.setDifferently ? "set differently" : "differs" : "";
        if (pair.verdictDiffers())
            enlist(remark, std::string(verdictName(pair.first.verdict)) + " → " + verdictName(pair.second.verdict));
        lines.push_back({pair.first.id + partWords(pair.first.part), comparedText(pair.first),
                         comparedText(pair.second), differenceText(pair), pair.times ? fixedText(*pair.times, 1) : "—",
                         remark});
    }
    text += "\n" + alignedText(lines, isLeft);
    if (alike > 0) text += std::to_string(alike) + " spreads are alike and not shown.\n";
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
    // A capture is measured as the other one, a project, measures its own.
    const auto sideOf = [](const std::string &name, const std::string &other) {
        Progress progress;
        ResultFile side;
        if (!isResultName(name) && isProjectName(other)) {
            const OpenedProject as = openProject(other, progress);
            side = readBeside(name, as.document, as.base, progress);
        } else {
            side = readResult(name, progress);
        }
        for (const std::string &why : side.unread)
            std::fprintf(stderr, "left out: %s: %s\n", shownText(name).c_str(), shownText(why).c_str());
        return std::move(side.numbers);
    };
    const ComparedResult first = sideOf(command.first, command.second);
    const Comparison comparison = compared(first, sideOf(command.second, command.first));
    if (!command.out.empty())
        writeFileAtomically(fs::path(command.out) / "comparison.json", comparisonJson(comparison));
    if (command.out.empty() && !command.quiet) print(comparison);
    return comparison.differs() ? 1 : 0;
}

} // namespace fulvex
