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

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

namespace fulvex {

namespace {

namespace fs = std::filesystem;

/// The numbers of a project now, of all captures of its run.
Results resultsOf(const OpenedProject &project, const std::string &name)
{
    Progress progress;
    Results results;
    if (hasRun(project.document)) {
        RunGathering run(shareFolder() / "masks");
        run.follow(project.document, project.base);
        run.look();
        while (run.hasNext()) run.takeNext(progress);
        std::optional<Results> all = run.all();
        if (!all) throw Error(name, "has no capture that can be read", "see fulvex-batch run");
        results = std::move(*all);
    } else {
        Engine engine(shareFolder() / "masks", 0);
        results = engine.evaluate(project.document, project.base, {.fingerprints = true}, progress);
    }
    if (const std::string error = results.firstError(); !error.empty()) throw Error("", error);
    return results;
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

/// Lines of cells, each column as wide as its widest, in characters.
class Columns {
public:
    void add(std::vector<std::string> cells) { m_lines.push_back(std::move(cells)); }
    std::string text() const
    {
        std::vector<std::size_t> widths;
        for (const auto &line : m_lines) {
            widths.resize(std::max(widths.size(), line.size()));
            for (std::size_t i = 0; i < line.size(); ++i) widths[i] = std::max(widths[i], widthOf(line[i]));
        }
        std::string all;
        for (const auto &line : m_lines) {
            for (std::size_t i = 0; i < line.size(); ++i) {
                all += (i ? "  " : "") + line[i];
                if (i + 1 < line.size()) all.append(widths[i] - widthOf(line[i]), ' ');
            }
            all += '\n';
        }
        return all;
    }

private:
    static std::size_t widthOf(const std::string &cell)
    {
        return std::size_t(std::ranges::count_if(cell, [](char c) { return (c & 0xc0) != 0x80; })); // UTF-8
    }
    std::vector<std::vector<std::string>> m_lines;
};

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
    std::string text =
        "A  " + comparison.firstName + "\nB  " + comparison.secondName + "\n\n" + summaryOf(comparison) + "\n";
    if (comparison.firstVersion != comparison.secondVersion)
        text += "Made by other versions: A " + comparison.firstVersion + ", B " + comparison.secondVersion + ".\n";
    if (!comparison.settings.empty()) {
        Columns columns;
        columns.add({"set differently", "A", "B", "moves"});
        for (const SettingDifference &one : comparison.settings)
            columns.add({one.setting + " of " + one.of, one.first, one.second, movedWords(comparison, one)});
        text += "\n" + columns.text();
    }
    Columns columns;
    columns.add({"number", "A", "B", "B − A", "in u", ""});
    for (const auto *pairs : {&comparison.rows, &comparison.masks}) {
        for (const Comparison::Pair &pair : *pairs) {
            std::string remark = pair.differs() ? pair.setDifferently ? "set differently" : "differs" : "";
            if (pair.verdictDiffers())
                remark += std::string(remark.empty() ? "" : ", ") + verdictName(pair.first.verdict) + " → " +
                          verdictName(pair.second.verdict);
            columns.add({pair.first.id, valueWords(pair.first), valueWords(pair.second),
                         pair.difference ? quantityText(*pair.difference, pair.first.unit, pair.uncertainty) : "—",
                         pair.times ? fixedText(*pair.times, 1) : "—", remark});
        }
    }
    text += "\n" + columns.text();
    if (!comparison.onlyFirst.empty()) text += "in A alone: " + listed(comparison.onlyFirst) + "\n";
    if (!comparison.onlySecond.empty()) text += "in B alone: " + listed(comparison.onlySecond) + "\n";
    if (!comparison.otherCaptures.empty()) text += "other captures: " + listed(comparison.otherCaptures) + "\n";
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
