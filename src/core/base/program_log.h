#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>

namespace fulvex {

enum class LogLevel { off, error, warning, info, debug };

/// "off", "error", "warning", "info", "debug".
std::optional<LogLevel> logLevelOf(std::string_view name);

/// From here on what the program does is written to PROGRAM.log in the user's state folder ($XDG_STATE_HOME/fulvex,
/// else ~/.local/state/fulvex; XDG Base Directory Specification), three files of a megabyte at most, so that a fault at
/// a user's desk can be understood. Where it cannot be written nothing is, and nothing else changes.
void startLog(const std::string &program, LogLevel level);

/// Writes a line, from any thread; does nothing unless a log of that level was started. Counts, durations and kinds of
/// things, never what is theirs: no names, no paths, no titles (see withoutNames).
void logLine(LogLevel level, const std::string &text);
bool isLogged(LogLevel level); ///< before a line that takes work to make

/// A message with all that is quoted or looks like a path left out.
std::string withoutNames(const std::string &message);

} // namespace fulvex
