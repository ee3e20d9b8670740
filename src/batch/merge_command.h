#pragma once

#include <string>
#include <vector>

namespace fulvex {

struct MergeCommand {
    std::string project, out, part, junit;
    std::vector<std::string> parts; ///< files of `run --partial`
    bool repeated = false;          ///< captures that several parts hold count as often
    bool quiet = false;
};

/// What one run over all captures of the parts gives. Exit status as of run(). Throws Error.
int merge(const MergeCommand &command);

} // namespace fulvex
