#pragma once

#include <string>
#include <vector>

namespace fulvex {

struct PlanCommand {
    std::string plan;
    std::vector<std::string> captures; ///< NAME=FILE, several of one name are added up
    std::vector<std::string> skipped;  ///< STEP=REASON
    std::vector<std::string> without;  ///< STEP.TEST
    std::string out, junit;
    bool quiet = false;
};

/// Works a plan down. Gives the exit status: 1 where not every step is done or skipped, or not every test passes.
/// Throws Error.
int plan(const PlanCommand &command);

} // namespace fulvex
