#pragma once

#include <string>
#include <string_view>

namespace fulvex {

/// Names this process for good, in letters, digits and '-' alone: the boot of the machine, the process' number, and
/// when it began. Files that only one process may touch carry it in their names.
std::string processTag();

/// Whether the process of a tag is known to run no more. False for one of another machine, or of another boot of this
/// one (which cannot be told apart), and for what is no tag.
bool isOver(std::string_view tag);

/// The same across boots, where no other machine can have made the tag.
bool isOverHere(std::string_view tag);

} // namespace fulvex
