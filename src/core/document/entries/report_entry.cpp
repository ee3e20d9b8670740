#include "report_entry.h"

namespace fulvex {

static constexpr Choice partWords[] = {{"plans", "plan steps and their tests"},
                                       {"measurements", "measurements"},
                                       {"failures", "worst failures"},
                                       {"sheets", "sheets"},
                                       {"rest", "what no sheet shows"},
                                       {"comparisons", "comparisons"},
                                       {"notes", "notes"},
                                       {"making", "how the numbers were made"},
                                       {"captures", "captures and their checks"}};

std::span<const Choice> reportParts()
{
    return partWords;
}

std::vector<std::string> partsOf(const ReportEntry &entry)
{
    if (!entry.parts.empty()) return entry.parts;
    std::vector<std::string> all;
    for (const Choice &part : partWords) all.push_back(part.word);
    return all;
}

std::vector<Field> fieldsOf(ReportEntry &entry)
{
    const auto words = [](const char *key, const char *label, std::size_t letters, FieldValue value) {
        return Field{.key = key,
                     .group = "report",
                     .words = label,
                     .role = Role::words,
                     .letters = letters,
                     .value = std::move(value)};
    };
    Field paper = words("paper", "paper", 20, &entry.paper);
    paper.choices = paperWords;
    Field parts = words("parts", "", std::size(partWords), &entry.parts);
    parts.choices = partWords;
    Field without = words("without", "", 10000, &entry.without);
    without.refers = EntryKind::any;
    without.lost = Lost::fieldIsCleared;
    constexpr std::size_t largestLogo = 400'000; // letters, of a picture of 300 kB
    return {paper,
            words("author", "measured by", 1000, &entry.author),
            words("place", "place", 1000, &entry.place),
            words("logo", "", largestLogo, &entry.logo),
            parts,
            without};
}

} // namespace fulvex
