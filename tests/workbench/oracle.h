#pragma once

#include "results.h"
#include "temporary_folder.h"

#include <map>
#include <string>

namespace fulvex::test {

/// Knows what every capture file of a test ever held, and with it what results have to be: what a new engine makes of
/// their document and of the very bytes whose fingerprints they state.
class Oracle {
public:
    /// Writes a capture anew: under another name and renamed, or over its bytes in place, where it stays the same file.
    void write(const std::string &path, const std::string &bytes, bool inPlace);
    /// Tells in a test's words where they differ; results with a capture that could not be read are asked for their
    /// reasons alone.
    void expectTrue(const Results &shown);
    int compared() const { return m_compared; } ///< in full

private:
    std::map<std::string, std::string> m_held; ///< by SHA-256
    TemporaryFolder m_folder;
    int m_compared = 0;
};

/// Every number of results as text, to the last bit: those of results.json, eyes' cells, masks' failures.
std::string everyBit(const Results &results);

} // namespace fulvex::test
