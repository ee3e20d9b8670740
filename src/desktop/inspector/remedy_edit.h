#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Does what a finding of the capture check offers.
void applyRemedy(Document &document, const Remedy &remedy);

} // namespace fulvex
