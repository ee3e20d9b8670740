#pragma once

#include <numbers>

namespace fulvex {

/// A whole turn of a phase, rad.
constexpr double turn = 2 * std::numbers::pi;

} // namespace fulvex
