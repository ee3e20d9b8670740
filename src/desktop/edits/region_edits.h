#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Names a span of time (s); gives the region's id.
std::string addRegion(Workbench &bench, double from, double to);
/// The eye folds a region from now on, made for it, that is moved along the Strip by its tab.
void windowEye(Workbench &bench, const std::string &id);

} // namespace fulvex
