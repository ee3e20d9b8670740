#pragma once

#include "document.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// One time that something was captured: a file for each capture of the document.
struct RunMember {
    std::vector<std::string> files;           ///< by the document's captures, as the document would name them
    std::vector<std::optional<int>> segments; ///< of these files, likewise; none: all of it
    std::string name;                         ///< of the files that are not the same every time
    std::string leftOut;                      ///< why it does not count; empty: it does
};

/// Whether any capture of the document has others like it.
bool hasRun(const Document &document);

/// The files that a run's list names: files as they are written there; of a folder those in it, and of a pattern (*, ?
/// and [ ], as of a shell's) those that match, by name with numbers by their value. What is hidden, or has an ending by
/// which files are known that are not written yet (.part, .tmp, ~), belongs to no folder. Each once.
std::vector<std::string> namedFiles(const std::vector<std::string> &list, const std::filesystem::path &base);

/// What a file, or a segment of one, is called in a run.
std::string memberName(const std::string &file, std::optional<int> segment);

/// The members of the document's run, in order; one where it has none, and none where a pattern or a folder has none.
/// Those of several captures go side by side. `base`: folder that paths are relative to. Throws Error where they are
/// not equally many.
std::vector<RunMember> membersOf(const Document &document, const std::filesystem::path &base);

/// The document with a member's files in the captures' places.
Document documentOf(const Document &document, const RunMember &member);

/// Why a member does not count; empty: it does.
std::string leftOutOf(const Document &document, const RunMember &member);

/// The member that the document itself has in its captures' places.
RunMember ownMember(const Document &document);
/// Failed captures that end the document's run, the fewest that a capture of it says; none: it goes on.
std::optional<int> stopAt(const Document &document);

} // namespace fulvex
