#pragma once

#include "run_tally.h"

#include <filesystem>
#include <string>
#include <vector>

namespace fulvex {

/// What a document computes, whatever files are in the place of its captures: parts of one identity can be added up.
std::string identityOf(const Document &document, Alike alike = Alike::results);

/// Writes what captures gave together, as RunTally has it, to a file that is there whole or not at all. Throws Error.
void writePart(const std::filesystem::path &path, const Results &results);

/// Reads one of the same document, to be added up: verdicts and statistics are made then. Believes nothing that it says
/// before checking it. Throws Error.
Results readPart(const std::filesystem::path &path, const Document &document);

/// The captures that a part says it holds, without looking at the rest. Throws Error.
std::vector<CountedCapture> capturesOfPart(const std::filesystem::path &path, const Document &document);

/// What parts give together, in whatever order; one after the other is read, so that memory holds few at a time.
struct MergedParts {
    Results results;
    std::vector<std::filesystem::path> leftOut; ///< all that they hold is in others
};
/// `repeated`: what several parts hold counts as often, and none is left out. Throws Error where one holds some
/// captures of another and some besides, or does not fit the others.
MergedParts mergedParts(const std::vector<std::filesystem::path> &parts, const Document &document, bool repeated);

} // namespace fulvex
