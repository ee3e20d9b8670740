#pragma once

#include "import_options.h"

#include <cstddef>
#include <span>
#include <vector>

namespace fulvex {

/// A way to read bytes that say nothing of themselves as raw samples.
struct RawGuess {
    ImportOptions options; ///< format, type, byte order, header, channels in turn
    double roughness = 0;  ///< mean square of neighbours' differences over the variance: 0 smooth, 2 white noise
};

/// The likeliest readings of a file as raw samples, the smoothest first, narrow samples before wide ones as smooth:
/// captured signals are smooth against their swing, and read with a wrong type, byte order or number of channels they
/// are not. What stands before the samples in readable letters, and zeros behind it, is taken for a header. At most
/// `wanted`, none that reads the same samples as one before it; empty where no reading is of numbers that change.
/// Source of the measure: von Neumann, "Distribution of the ratio of the mean square successive difference to the
/// variance" (1941).
std::vector<RawGuess> guessRaw(std::span<const std::byte> bytes, std::size_t wanted);

} // namespace fulvex
