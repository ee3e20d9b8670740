#pragma once

#include "workbench.h"

namespace fulvex {

// What is laid beside what: traces in one tile, differences, the same formula of others.

/// Both in one tile, each in its ink.
void overlay(Workbench &bench, const std::string &channel, const std::string &other);
/// A channel less another, in one tile with both.
void subtract(Workbench &bench, const std::string &channel, const std::string &other);
/// The same, the other one moved onto it first.
void subtractAligned(Workbench &bench, const std::string &channel, const std::string &other, bool byEdges);

/// The one channel that a computed channel's formula is of; empty where it names none or several.
std::string formulaIsOf(const Document &document, const std::string &channel);
/// Channels that are to others what a computed one is to the channel that its formula is of.
void computeOfOthers(Workbench &bench, const std::string &channel, const std::vector<std::string> &others);

} // namespace fulvex
