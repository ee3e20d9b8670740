#pragma once

#include <string>

namespace fulvex {

struct CheckCommand {
    std::string report, captures;
    bool quiet = false;
};

/// Says whether a report is as it was made, and whether its captures give its numbers again. Gives the exit status: 1
/// where it does not hold. Throws Error.
int check(const CheckCommand &command);

} // namespace fulvex
