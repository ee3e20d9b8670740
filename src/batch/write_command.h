#pragma once

#include <string>

namespace fulvex {

struct WriteCommand {
    std::string project, channel, region, to;
    bool quiet = false;
};

/// Writes a channel, or what of it lies in a region, to a file. Exit status 0. Throws Error.
int write(const WriteCommand &command);

} // namespace fulvex
