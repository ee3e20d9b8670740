#pragma once

#include "results.h"

namespace fulvex {

/// What an entry asks of phase noise that was found: its integral, and what makes it doubtful.
void integrate(PhaseNoiseResult &result, const PhaseNoiseEntry &entry);
/// Against the entry's limits.
void judge(PhaseNoiseResult &result, const PhaseNoiseEntry &entry);

} // namespace fulvex
