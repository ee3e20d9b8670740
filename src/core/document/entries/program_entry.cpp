#include "program_entry.h"

#include "argument_names.h"

namespace fulvex {

std::vector<Field> fieldsOf(ProgramEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "file", .always = true, .letters = 4096, .needed = true, .value = &entry.file},
        {.key = "sha256", .value = &entry.sha256},
        {.key = "arguments", .words = "signals", .always = true, .letters = 16, .value = &entry.arguments},
        {.key = "parameters", .words = "constants", .letters = 16, .value = &entry.parameters},
        {.key = "unit", .words = "gives", .none = "what its first signal is in", .letters = 20, .value = &entry.unit},
        {.key = "seconds",
         .words = "takes at most",
         .unit = "s",
         .least = 0,
         .most = 1e5,
         .above = true,
         .value = &entry.seconds},
        {.key = "memory", .words = "and of memory", .unit = "B", .least = 1e7, .most = 1e13, .value = &entry.memory},
        {.key = "help", .words = "what it does", .role = Role::words, .letters = 1000, .value = &entry.help},
    };
}

void checkEntry(const ProgramEntry &entry, const std::string &where)
{
    std::vector<std::string> all = entry.arguments;
    all.insert(all.end(), entry.parameters.begin(), entry.parameters.end());
    checkArgumentNames(all, where + ".arguments");
    if (entry.arguments.empty()) throw Error(where + ".arguments", "there are none", "name the signals that it takes");
}

} // namespace fulvex
