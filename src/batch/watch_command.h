#pragma once

#include <string>
#include <vector>

namespace fulvex {

struct WatchCommand {
    std::string project, out, junit;
    std::vector<std::string> captures;   ///< "ID=FOLDER", or a pattern
    std::vector<std::string> parameters; ///< "PARAMETER=VALUE"
    double idle = 0;                     ///< s without a new capture that end it; 0: none do
    int stopAt = 0;                      ///< failed captures that end it; 0: as the project says
    bool quiet = false;
};

/// Counts captures as they come, and writes results anew after each: until it is told to end (SIGINT, SIGTERM), so many
/// captures failed, or nothing came for so long. What it counted lies in the folder "counted" beside its results: begun
/// again, it goes on with that. Exit status as run(). Throws Error.
int watch(const WatchCommand &command);

} // namespace fulvex
