#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace fulvex::test {

/// A jitter whose parts are drawn by chance, and what was found of it. All in seconds.
struct JitterCase {
    std::string what; ///< in words: edges, data, levels, parts
    struct Part {
        const char *quantity;
        double truth = 0, found = 0, uncertainty = 0;
        double goal = 0;    ///< how far off it may be
        bool counts = true; ///< it was to be told at all
        bool good() const { return !counts || (found >= truth - goal && found <= truth + goal); }
        bool held() const { return found >= truth - 2 * uncertainty && found <= truth + 2 * uncertainty; }
    };
    std::vector<Part> parts;
};

/// Cases from edges of known jitter: random 1 to 20 ps, up to three lines of 0 to 50 ps at 0.1 to 200 MHz, data 0 to 40
/// ps, duty cycle 0 to 10 ps, in a third of them something bounded of 0 to 20 ps; 1e4 to 1e6 edges; 2 to 4 levels;
/// PRBS 7 to 15 and random data; intersymbol interference of one to four symbols. Totals by numerical convolution of
/// the truth.
std::vector<JitterCase> jitterGrid(int cases, std::uint64_t seed);
/// The same from samples: 3.2 to 50 a unit interval, by a fixed clock that is found.
std::vector<JitterCase> sampledJitterGrid(int cases, std::uint64_t seed);

} // namespace fulvex::test
