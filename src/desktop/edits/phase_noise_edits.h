#pragma once

#include "phase_noise.h"
#include "workbench.h"

#include <string>

namespace fulvex {

/// Phase noise of a channel, by a fixed clock that is found from it, or by a clock: the entry, rows and a sheet, in one
/// step; shows it. Gives its id.
std::string addPhaseNoise(Workbench &bench, const std::string &of);
/// Sets what is integrated; one `drag` is one step to be undone. A limit at an end of what can be told is none.
void setIntegral(Workbench &bench, const std::string &id, const PhaseNoiseSpan &span, int drag);
/// Takes a line into the integral, or out of it; false where there is no such line.
bool countLine(Workbench &bench, const std::string &id, std::size_t line);
/// Rows of the level at each power of ten that can be told; at the limit's offsets, each with its limit.
void addDecadeRows(Workbench &bench, const std::string &id);
void addLimitRows(Workbench &bench, const std::string &id);
/// Whether the shown sheet has a tile of phase noise that does not show this one; lays it over the first.
bool canLayOver(const Workbench &bench, const std::string &id);
void layOver(Workbench &bench, const std::string &id);

/// "1k -90, 100k -120": offsets in Hz and levels in dBc/Hz by turns, as typed or pasted from a table; none: it is no
/// such list.
std::optional<std::pair<std::vector<double>, std::vector<double>>> limitFrom(const QString &typed);
QString limitText(const PhaseNoiseEntry &entry);

} // namespace fulvex
