#pragma once

#include <string>
#include <vector>

namespace fulvex {

struct RunCommand {
    std::string project, out, populations;
    std::vector<std::string> captures;   ///< "ID=FILE"
    std::vector<std::string> parameters; ///< "PARAMETER=VALUE"
    bool quiet = false, verbose = false;
};

/// Exit status: 0 all passed or carried no limit, 1 a limit or a mask failed. Throws Error.
int run(const RunCommand &command);

} // namespace fulvex
