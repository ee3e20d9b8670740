#pragma once

#include <string>
#include <vector>

namespace fulvex {

struct RunCommand {
    std::string project, out, populations, part, junit;
    std::vector<std::string> captures;   ///< "ID=FILE"
    std::vector<std::string> parameters; ///< "PARAMETER=VALUE"
    int jobs = 1;                        ///< captures at a time
    bool quiet = false, verbose = false;
};

/// Exit status: 0 all passed or carried no limit, 1 a limit or a mask failed, or of many captures one was left out.
/// Throws Error.
int run(const RunCommand &command);

} // namespace fulvex
