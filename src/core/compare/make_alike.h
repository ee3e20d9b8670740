#pragma once

#include "comparison.h"

#include <span>

namespace fulvex {

/// The second document of a comparison with these of its settings as the first one has them; its captures, and what
/// nothing compared stands on, stay as they are. An entry that several compared ones share there, of which each stands
/// on another in the first, is parted; what the first one refers to and the second has not, comes over. Times count
/// from each document's own origin. The document is not validated. Throws Error where what would have to come over is
/// another record.
Document madeAlike(const Document &second, const Document &first, const Comparison &comparison,
                   std::span<const SettingDifference> wanted);

} // namespace fulvex
