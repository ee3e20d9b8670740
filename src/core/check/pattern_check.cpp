#include "pattern_check.h"

#include "number_text.h"

namespace fulvex {

std::vector<Finding> checkPattern(std::int64_t length, std::int64_t unitIntervals, const std::string &channel)
{
    if (length == 0) return {};
    const double repeats = double(unitIntervals) / double(length);
    if (repeats >= wantedRepeats) return {};
    return {{"pattern_repeats",
             "warning",
             "the pattern of " + std::to_string(length) + " symbols is repeated " + fixedText(repeats, 1) +
                 " times: data-dependent jitter is told from random jitter by its repeats, and " +
                 std::to_string(wantedRepeats) +
                 " are needed; take a "
                 "longer "
                 "record",
             channel,
             {},
             {},
             {}}};
}

} // namespace fulvex
