#pragma once

#include <string>

namespace fulvex {

// Which contents of programs the user has looked at and allowed to run, by SHA-256, for all projects: an empty file
// each in the user's configuration ($XDG_CONFIG_HOME/fulvex/allowed-programs, else ~/.config; XDG Base Directory
// Specification). Nothing else runs.

bool isProgramAllowed(const std::string &sha256);
/// Throws Error where that cannot be kept.
void allowProgram(const std::string &sha256);
void forbidProgram(const std::string &sha256);

} // namespace fulvex
