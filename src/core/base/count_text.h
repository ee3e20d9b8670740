#pragma once

#include <string>

namespace fulvex {

/// A count, in groups of three with narrow spaces between: "78 719".
std::string countText(double count);

} // namespace fulvex
