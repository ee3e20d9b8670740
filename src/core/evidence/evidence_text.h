#pragma once

#include "evidence.h"

namespace fulvex {

/// Evidence in words, the same in the window and in batch: what the moments are of and how many, and a table of them.
std::string headingOf(const Evidence &evidence);
std::vector<std::string> columnsOf(const Evidence &evidence);
std::vector<std::string> cellsOf(const Evidence &evidence, const Evidence::Item &item); ///< one a column

} // namespace fulvex
