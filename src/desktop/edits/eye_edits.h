#pragma once

#include "workbench.h"

#include <string>

namespace fulvex {

/// Edits of eyes and overlays, each one undoable step. What adds selects what it made and gives its id, or an empty one
/// where the document did not take it.

std::string addEye(Workbench &bench, const std::string &clock);
/// By the first clock of a channel, or a loop that is made with it where there is none.
std::string addEyeOf(Workbench &bench, const std::string &channel);
/// Overlays, each with a tile: of what lies about a channel's rising edges; of the pattern that a clock's channel
/// repeats; at the edges that a template is laid at, so that it is seen there.
std::string addEdgeOverlay(Workbench &bench, const std::string &channel);
std::string addPatternOverlay(Workbench &bench, const std::string &clock);
std::string showTemplate(Workbench &bench, const std::string &mask);
/// The mean of an overlay's laps, in the place of each, beside the channel that it is of.
std::string addAverage(Workbench &bench, const std::string &overlay);
/// Asks Evidence where symbols follow on each other in an eye; tells what is wrong with words that are none.
void findSymbols(Workbench &bench, const std::string &eye, const std::string &words);

} // namespace fulvex
