#pragma once

#include "waveform.h"

#include <optional>
#include <string_view>

namespace fulvex {

/// Adds what a file says of itself, in its own words. Passed over: what is empty, said already, not a line of letters
/// that people read, or beyond what one would read (StatedFact::most of them).
void addStated(std::vector<StatedFact> &stated, std::string_view what, std::string_view value);

/// A probe's attenuation that a file states, if it does: the factor from what was captured to what the probe is on.
/// "Probe Attenuation" and the like; "10", "10x", "x10", "10:1".
std::optional<double> statedProbeFactor(const StatedFact &fact);

} // namespace fulvex
