#pragma once

#include "results.h"

#include <string>
#include <vector>

namespace fulvex {

/// A line that a result names.
struct SeenLine {
    std::string in, source;                ///< id of the jitter budget, phase noise or spectrum; channel that it is of
    double frequency = 0, uncertainty = 0; ///< Hz
    std::string level;                     ///< in words: "79 ps pp", "-71.2 dBc"
};

/// Lines of one frequency in results of more than one channel: what they share is suspected of all of them.
struct Suspect {
    double frequency = 0;       ///< Hz
    std::vector<SeenLine> seen; ///< one a result
};

/// Of all results, the lowest frequency first. Two lines are one where they differ by no more than three times what
/// both frequencies are uncertain.
std::vector<Suspect> suspects(const Results &results);

/// Of a line that an entry names: the same in results of other channels, out of suspects().
std::vector<SeenLine> linesElsewhere(const std::vector<Suspect> &suspects, const std::string &in, double frequency);
/// "also in ref_noise: -71.2 dBc at 2.2 MHz"; empty: in none.
std::string seenElsewhere(const Results &results, const std::string &in, double frequency);

} // namespace fulvex
