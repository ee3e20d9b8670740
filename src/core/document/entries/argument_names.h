#pragma once

#include "error.h"
#include "field.h"

#include <algorithm>

namespace fulvex {

/// Throws Error for names of a function's arguments that cannot be, or are there twice.
inline void checkArgumentNames(const std::vector<std::string> &names, const std::string &where)
{
    for (const std::string &name : names) {
        if (!isId(name))
            throw Error(where, "\"" + name + "\" cannot be an argument's name",
                        "begin with a small letter, then small letters, digits and _");
        if (std::count(names.begin(), names.end(), name) > 1)
            throw Error(where, "two are named \"" + name + "\"", "give each a name of its own");
    }
}

} // namespace fulvex
