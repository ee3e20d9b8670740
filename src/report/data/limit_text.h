#pragma once

#include "document.h"

#include <optional>
#include <string>

namespace fulvex {

/// "< 450 ps", "> 0.6 V", "0.6 … 1 V"; a dash where there is none.
std::string limitText(const LimitEntry &limit, const std::string &unit);

/// What limitText() writes, and what people type besides: SI prefixes, "<=", "≤", "..", "to"; a number alone is an
/// upper limit; nothing, a dash or "none" is no limit. Of two numbers the first has the second's prefix where it has
/// none. Empty where the text is not that, or nothing could pass.
std::optional<LimitEntry> parseLimit(const std::string &text, const std::string &unit);

} // namespace fulvex
