#pragma once

#include "document.h"

namespace fulvex {

/// Removes the entry with an id, and everything that cannot be without it (channels of a capture, eyes of a clock, a
/// tile that showed nothing else); what can do without it does.
void removeWithDependents(Document &document, const std::string &id);

/// Gives an entry another id, made of `wish` and free, wherever it is referred to; gives the id.
std::string renameEntry(Document &document, const std::string &id, const std::string &wish);

/// Ids of the entries that refer to one, each once, in the order of the document.
std::vector<std::string> usersOf(const Document &document, const std::string &id);

} // namespace fulvex
