#pragma once

#include "document.h"

#include <set>
#include <span>

namespace fulvex {

/// Removes the entry with an id, and everything that cannot be without it (channels of a capture, eyes of a clock, a
/// tile that showed nothing else); what can do without it does.
void removeWithDependents(Document &document, const std::string &id);

/// Gives an entry another id, made of `wish` and free, wherever it is referred to; gives the id.
std::string renameEntry(Document &document, const std::string &id, const std::string &wish);

/// Ids of the entries that refer to one, each once, in the order of the document.
std::vector<std::string> usersOf(const Document &document, const std::string &id);

/// The channel that an entry is of: itself, or that of the clock, eye or row that it names. Empty: there is none.
std::string channelOf(const Document &document, const std::string &id);

/// Ids of all that the numbers of an entry stand on, itself included: what it refers to, what that refers to, down to
/// captures.
std::set<std::string> allBehind(const EntryIndex &entries, const std::string &id);

/// A document of some entries and what their numbers stand on, without all others: so that only they are computed.
Document onlyBehind(Document document, std::span<const std::string> ids);

/// The channels that a document's masks and templates lie on.
std::set<std::string> channelsUnderMasks(const Document &document);

/// "a - b" of two file channels, as their ids; none where the formula is another.
std::optional<std::pair<std::string, std::string>> legsOf(const Document &document, const ChannelEntry &entry);

} // namespace fulvex
