#pragma once

#include "document.h"
#include "formula.h"

namespace fulvex {

/// Follows what formulas name: unknown names, circles and chains that are too long throw Error with the JSON path.
void checkFormulas(const Document &document);

/// The document's own functions and programs, for Formula::parse().
Formula::OwnFunctions ownFunctions(const Document &document);

/// The channels that what a formula names stands on: a channel itself, those of a row or a clock; none of a parameter
/// or a region.
std::vector<std::string> channelsBehind(const Document &document, const std::string &name);

} // namespace fulvex
