#pragma once

#include "field.h"

namespace fulvex {

/// A program of the user's that formulas call as a function: signals in, a signal out.
struct ProgramEntry {
    std::string id, file;                ///< relative to the document
    std::string sha256;                  ///< of the content that is meant; empty: none was allowed yet
    std::vector<std::string> arguments;  ///< names of the signals it takes
    std::vector<std::string> parameters; ///< of the constants behind them
    std::string unit;                    ///< of what it gives; empty: that of the first signal
    double seconds = 60;                 ///< that it may take
    double memory = 2e9;                 ///< bytes, beside what it is given
    std::string help;                    ///< what it does, in words
    bool operator==(const ProgramEntry &) const = default;
};

std::vector<Field> fieldsOf(ProgramEntry &entry);
void checkEntry(const ProgramEntry &entry, const std::string &where);

} // namespace fulvex
