#pragma once

#include "workbench.h"

namespace fulvex {

/// Takes the jitter of a channel, or of a clock's channel, apart: the clock that is there, or a loop that it says why
/// for; a budget, the rows of its parts, and a sheet of its own that shows them. The budget's id; empty: nothing was
/// changed.
std::string takeJitterApart(Workbench &bench, const std::string &of);
/// The same of several channels in one step: a budget each, their bars and bathtubs beneath each other on one sheet.
void takeJittersApart(Workbench &bench, const std::vector<std::string> &channels);

/// Makes a budget's fixed clock the loop that receivers have by default, see loopPresets(); false where it is no fixed
/// one, or its rate is not known yet.
bool followSlowJitter(Workbench &bench, const std::string &budget);

/// Leaves the line of a piece out of a budget, or takes it back in. False for a piece that is no line.
bool switchLine(Workbench &bench, const std::string &budget, std::size_t part);

} // namespace fulvex
