#pragma once

#include "evaluation.h"
#include "finding.h"

namespace fulvex {

/// The capture check of one capture in its project: each channel that lies in it, the pairs that formulas subtract, and
/// the loops that run on it. Cached by the channels' nodes.
std::vector<Finding> captureFindings(Evaluation &evaluation, const CaptureEntry &entry);

} // namespace fulvex
