#pragma once

#include "finding.h"

#include <cstdint>
#include <string>
#include <vector>

namespace fulvex {

constexpr std::int64_t wantedRepeats = 30;

/// A remark where a pattern repeats less often than that in a record of `unitIntervals`. Never in one of as many as the
/// longest pattern takes: nothing needs to be looked for.
std::vector<Finding> checkPattern(std::int64_t length, std::int64_t unitIntervals, const std::string &channel);

} // namespace fulvex
