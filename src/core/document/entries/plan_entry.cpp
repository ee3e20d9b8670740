#include "plan_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

std::pair<std::string, std::string> AttemptEntry::parted(const std::string &capture)
{
    const std::size_t at = capture.find('=');
    if (at == std::string::npos) return {};
    return {capture.substr(0, at), capture.substr(at + 1)};
}

std::vector<Field> fieldsOf(PlanEntry &entry)
{
    return {
        idField(entry.id),
        fileField(entry.file, "name the plan's file"),
        {.key = "skipped",
         .letters = 1000,
         .wrong = "gives no reason",
         .mend = "say why the step is skipped",
         .value = &entry.skipped},
        {.key = "without", .letters = 10000, .value = &entry.without},
    };
}

std::vector<Field> fieldsOf(AttemptEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "plan", .always = true, .refers = EntryKind::plan, .needed = true, .value = &entry.plan},
        {.key = "step",
         .always = true,
         .needed = true,
         .wrong = "names no step",
         .mend = "name the plan's step",
         .value = &entry.step},
        {.key = "when", .value = &entry.when},
        {.key = "captures", .letters = 10000, .value = &entry.captures},
        {.key = "sha256", .letters = 10000, .value = &entry.sha256},
        {.key = "found", .letters = 10000, .wrong = "says nothing", .mend = "leave it out", .value = &entry.found},
    };
}

void checkEntry(const AttemptEntry &entry, const std::string &where)
{
    for (const std::string &capture : entry.captures)
        if (const auto [slot, file] = AttemptEntry::parted(capture); slot.empty() || file.empty())
            throw Error(where + ".captures", "holds \"" + capture.substr(0, 100) + "\"",
                        "write each as slot=file, as \"cold=cold-0421.npy\"");
}

} // namespace fulvex
