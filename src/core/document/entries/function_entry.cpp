#include "function_entry.h"

#include "error.h"

#include <algorithm>

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
    for (const std::string &argument : entry.arguments) {
        if (!isId(argument))
            throw Error(where + ".arguments", "\"" + argument + "\" cannot be an argument's name",
                        "begin with a small letter, then small letters, digits and _");
        if (std::count(entry.arguments.begin(), entry.arguments.end(), argument) > 1)
            throw Error(where + ".arguments", "two are named \"" + argument + "\"", "give each a name of its own");
    }
    if (entry.arguments.empty())
        throw Error(where + ".arguments", "there are none", "a function of nothing is a parameter: name one at least");
}

} // namespace fulvex
