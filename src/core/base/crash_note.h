#pragma once

#include <string>
#include <vector>

namespace fulvex {

/// Whenever this program ends by a fault (SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL), a note is left in the state
/// folder: which version, where in the program, what was done last, nothing of what it was done to. The fault then
/// takes its usual course. Nothing is left where there is no state folder.
void startCrashNotes(const std::string &program, const std::string &version);

/// Names what is done now ("add_eye"); the last few are in the note. From the interface's thread alone.
void rememberAction(const char *name);

struct CrashNote {
    std::string path, text;
};
/// Those that programs before this one left, the newest first; at most a few, what is older is removed.
std::vector<CrashNote> crashNotes();
void discardCrashNotes();

} // namespace fulvex
