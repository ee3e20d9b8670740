#pragma once

#include "document.h"

#include <set>

namespace fulvex {

/// Ids of the captures of which each member of the document's run has its own file; none where there is no run.
std::vector<std::string> variedCaptures(const Document &document);

/// Ids of the entries whose numbers each member of a run has alike, since they stand on captures that are not among
/// `varied` (empty: all are): they count once, and say nothing of one member.
std::set<std::string> sameEachTime(const Document &document, const std::vector<std::string> &varied);

} // namespace fulvex
