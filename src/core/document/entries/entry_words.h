#pragma once

#include "field.h"

namespace fulvex {

/// Words and fields that several entries have.
inline constexpr Choice edgeWords[] = {{"rising", "rising"}, {"falling", "falling"}, {"both", "both"}};
inline constexpr Choice instantWords[] = {
    {"auto", "as the signal asks for"}, {"linear", "straight lines"}, {"sinc", "windowed sinc"}};

inline constexpr Choice windowWords[] = {
    {"hann", "Hann"}, {"rectangular", "rectangular"}, {"flat_top", "flat top"}, {"blackman_harris", "Blackman–Harris"}};

/// The field of a file of other results, or of a plan. `mend`: what to do where it names none.
inline Field fileField(std::string &file, const char *mend)
{
    return {.key = "file",
            .words = "file",
            .always = true,
            .letters = 4000,
            .needed = true,
            .wrong = "names no file",
            .mend = mend,
            .value = &file};
}

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
