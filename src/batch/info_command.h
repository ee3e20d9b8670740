#pragma once

#include <string>
#include <vector>

namespace fulvex {

/// What files hold. Throws Error for the first that cannot be read.
int info(const std::vector<std::string> &files, bool json);

} // namespace fulvex
