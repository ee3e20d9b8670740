#pragma once

#include <string>

namespace fulvex {

struct ProgramCommand {
    std::string project, id;
    bool allow = false, forbid = false;
};

/// Shows a program that a project runs: its file, SHA-256, whether it is allowed, and all of its text; allows or
/// forbids that content. Throws Error.
int program(const ProgramCommand &command);

} // namespace fulvex
