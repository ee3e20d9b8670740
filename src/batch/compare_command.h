#pragma once

#include <string>

namespace fulvex {

/// `fulvex-batch compare A B [--out DIR]`.
struct CompareCommand {
    std::string first, second; ///< projects, or results.json
    std::string out;           ///< folder for comparison.json; empty: it is printed
    bool quiet = false;
};

/// 0: all numbers and verdicts agree, 1: some do not. Throws Error.
int compare(const CompareCommand &command);

} // namespace fulvex
