#pragma once

#include "run_tally.h"

#include <filesystem>
#include <string>

namespace fulvex {

/// What a document computes, whatever files are in the place of its captures: parts of one identity can be added up.
std::string identityOf(const Document &document);

/// Writes what captures gave together, as RunTally has it, to a file that is there whole or not at all. Throws Error.
void writePart(const std::filesystem::path &path, const Results &results);

/// Reads one of the same document, to be added up: verdicts and statistics are made then. Believes nothing that it says
/// before checking it. Throws Error.
Results readPart(const std::filesystem::path &path, const Document &document);

/// Adds parts up in any order. One whose captures another one holds as well is left out and told of to `told`; where
/// two hold some of each other's, throws Error. `repeated`: what several parts hold counts as often.
class PartMerger {
public:
    explicit PartMerger(bool repeated) : m_repeated(repeated) {}
    void add(Results part, const std::string &name);
    /// Names of parts that were left out, since all that they hold is in another.
    const std::vector<std::string> &leftOut() const { return m_leftOut; }
    Results results() const;

private:
    struct Part {
        std::string name;
        Results results;
    };
    bool m_repeated;
    std::vector<Part> m_parts;
    std::vector<std::string> m_leftOut;
};

} // namespace fulvex
