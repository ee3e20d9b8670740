#pragma once

#include <string>

namespace fulvex {

/// For the ends of threads and programs, within a catch (...): what happened, in our words, whatever was thrown. An
/// Error says it itself; of what a library threw it says what it means to a user. Not for Cancelled, which is nobody's
/// fault.
std::string failureText();

/// The same for the program's log: without names and places, and of unforeseen ones with their kind.
std::string failureForLog();

} // namespace fulvex
