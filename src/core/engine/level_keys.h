#pragma once

#include "document.h"
#include "edge_finder.h"
#include "symbol_levels.h"

#include <string>

namespace fulvex {

// How entries say that levels are laid and instants found, and under which keys what follows from them is kept. Keys
// follow from keys alone, so that nothing is computed to find out whether it is there.

LevelRule ruleOf(const LevelsEntry &entry);
/// Of eyes: where a row names no set of its own, 20 to 80 % of the opening.
LevelRule eyeLevelsRule(const LevelsEntry &entry);
/// How symbols of so many amplitude levels are told apart. Throws Unmeasurable where the entry gives another number.
SymbolLevelRule symbolRuleOf(const LevelsEntry &levels, int modulation);
std::string textOf(const SymbolLevelRule &rule);
/// "instants": as clocks take them by themselves.
EdgeInterpolation interpolationOf(const std::string &name);

std::string surveyKey(const std::string &channel, SampleRange samples, bool stretches);
std::string levelsKey(const std::string &survey, const LevelRule &rule);
std::string edgesKey(const std::string &levels, EdgeInterpolation settled);
/// How many samples a transition takes between those levels.
std::string steepnessKey(const std::string &levels);

} // namespace fulvex
