#pragma once

#include "run_tally.h"

#include <filesystem>
#include <vector>

namespace fulvex {

/// What a run has counted so far, in a folder: parts, each there whole or not at all, so that a program that dies at
/// any moment goes on with all that was counted, and counts nothing twice.
class RunJournal {
public:
    /// Makes the folder. Throws Error.
    explicit RunJournal(std::filesystem::path folder);
    /// The sums that lie there, of more captures first; what one of them holds in another is deleted. Throws Error
    /// where they are of another state of the project, damaged, or hold some captures of each other.
    std::vector<Results> load(const Document &document);
    /// A sum that takes the place of so many written before it.
    void write(const Results &sum, std::size_t replaces);

private:
    std::filesystem::path fileOf(std::size_t number) const;
    std::filesystem::path m_folder;
    std::vector<std::filesystem::path> m_files; ///< that count, in the order of the sums
    std::size_t m_next = 1;
};

} // namespace fulvex
