#include "function_entry.h"

#include "argument_names.h"

namespace fulvex {

std::vector<Field> fieldsOf(FunctionEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "arguments", .words = "arguments", .always = true, .letters = 16, .value = &entry.arguments},
        {.key = "formula",
         .words = "formula",
         .always = true,
         .letters = 20000,
         .formula = true,
         .locals = &entry.arguments,
         .needed = true,
         .value = &entry.formula},
        {.key = "help", .words = "what it does", .role = Role::words, .letters = 1000, .value = &entry.help},
    };
}

void checkEntry(const FunctionEntry &entry, const std::string &where)
{
    checkArgumentNames(entry.arguments, where + ".arguments");
    if (entry.arguments.empty())
        throw Error(where + ".arguments", "there are none", "a function of nothing is a parameter: name one at least");
}

} // namespace fulvex
