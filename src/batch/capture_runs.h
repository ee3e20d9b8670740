#pragma once

#include "document.h"
#include "run_command.h"

#include <string>
#include <vector>

namespace fulvex {

/// What is evaluated at a time: the project with a file in each capture's place.
struct OneRun {
    Document document;
    std::string name; ///< of the files that were put there, but for those that all have; else of the project's own
};

/// One, or one for each file that the command gives for a capture, in order; with its parameters. Throws Error.
std::vector<OneRun> runsOf(const RunCommand &command, Document document);

} // namespace fulvex
