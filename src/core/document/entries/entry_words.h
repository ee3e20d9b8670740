#pragma once

#include "field.h"

namespace fulvex {

/// Words that several entries allow.
inline constexpr Choice edgeWords[] = {{"rising", "rising"}, {"falling", "falling"}, {"both", "both"}};
inline constexpr Choice instantWords[] = {
    {"auto", "as the signal asks for"}, {"linear", "straight lines"}, {"sinc", "windowed sinc"}};

} // namespace fulvex
