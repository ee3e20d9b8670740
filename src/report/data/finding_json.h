#pragma once

#include "finding.h"

#include <nlohmann/json_fwd.hpp>

namespace fulvex {

/// A finding as the contract has it, and beyond that where it is and what would mend it.
nlohmann::ordered_json findingJson(const Finding &finding);

} // namespace fulvex
