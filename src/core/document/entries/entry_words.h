#pragma once

#include "field.h"

namespace fulvex {

/// Words and fields that several entries have.
inline constexpr Choice edgeWords[] = {{"rising", "rising"}, {"falling", "falling"}, {"both", "both"}};
inline constexpr Choice instantWords[] = {
    {"auto", "as the signal asks for"}, {"linear", "straight lines"}, {"sinc", "windowed sinc"}};

inline constexpr Choice windowWords[] = {
    {"hann", "Hann"}, {"rectangular", "rectangular"}, {"flat_top", "flat top"}, {"blackman_harris", "Blackman–Harris"}};

/// The field of a region that something is taken from.
inline Field regionField(std::string &region)
{
    return {.key = "region",
            .words = "region",
            .none = "whole record",
            .refers = EntryKind::region,
            .lost = Lost::fieldIsCleared,
            .value = &region};
}

} // namespace fulvex
