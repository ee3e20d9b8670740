#pragma once

#include <cstddef>
#include <string>

namespace fulvex {

/// `fulvex-batch evidence`: the moments behind a number.
struct EvidenceCommand {
    std::string project, id;
    std::string times, values, phases, frequencies; ///< FROM:TO in SI units, or empty
    std::size_t most = 20;                          ///< moments told
    bool json = false;
};

/// Throws Error where the project, a capture or the question cannot be used.
int evidence(const EvidenceCommand &command);

} // namespace fulvex
