#pragma once

#include "progress.h"
#include "sample_source.h"

#include <string>
#include <vector>

namespace fulvex {

/// Which quantities fit a signal, or a pair, told from its populations, and why.
struct Suggestion {
    std::string kind; ///< "clock", "pulse train", "data", "sine", "step", "no edges"; of a pair "input and output", …
    std::string reason; ///< what it was told by, with the numbers
    struct Row {
        std::string quantity, edge = {}, toEdge = {};
        bool turned = false; ///< of a pair: of the second, to the first
    };
    std::vector<Row> rows; ///< empty: nothing fits
};

/// Looks at the first 4 million samples. A sine: equally spaced edges, and states 2 sqrt(2) times its ac rms apart
/// within 6 % with transitions as long as a sine's. A clock: periods that scatter by less than 5 %. Data: edges on
/// multiples of a unit interval, to 15 % of it, of at least two lengths, one in five of them one long. A step: one or
/// two edges. Else pulses.
Suggestion suggestFor(const SampleSource &source, Progress &progress);

/// Of a pair on whatever time axes: legs, clock and data, or input and output, by which edges lie beside which.
Suggestion suggestForPair(const SampleSource &first, const SampleSource &second, Progress &progress);

} // namespace fulvex
