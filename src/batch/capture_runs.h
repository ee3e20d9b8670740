#pragma once

#include "document.h"
#include "run_command.h"

#include <string>
#include <vector>

namespace fulvex {

/// What is evaluated at a time: the project with a file in each capture's place.
struct OneRun {
    Document document;
    std::string name; ///< of those files that others have not as well; empty of the only one
};

/// One, or one for each file that the command gives for a capture, in order; with its parameters. Throws Error.
std::vector<OneRun> runsOf(const RunCommand &command, Document document);

} // namespace fulvex
