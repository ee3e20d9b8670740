#pragma once

#include "field.h"

namespace fulvex {

/// A named formula over arguments, for other formulas to use.
struct FunctionEntry {
    std::string id;
    std::vector<std::string> arguments; ///< names that stand for what it is called with
    std::string formula;                ///< over them, and what else of the document it names
    std::string help;                   ///< what it does, in words
    bool operator==(const FunctionEntry &) const = default;
};

std::vector<Field> fieldsOf(FunctionEntry &entry);
void checkEntry(const FunctionEntry &entry, const std::string &where);

} // namespace fulvex
