#pragma once

#include "evidence.h"

namespace fulvex {

/// When the line of phase noise that is asked about is strongest: parts of the record.
Evidence ofPhaseNoise(const PhaseNoiseResult &noise, const Question &question, std::size_t wanted, Progress &progress);

} // namespace fulvex
