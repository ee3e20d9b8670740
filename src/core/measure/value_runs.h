#pragma once

#include "core_loop.h"

#include <algorithm>
#include <cstddef>
#include <vector>

namespace fulvex {

constexpr std::size_t valueRun = 1 << 16; ///< values that a core takes at a time

/// Calls use(run, first, last) for runs of `count` values, counted from 0, on all cores.
template <typename Use>
void inRuns(std::size_t count, const Use &use)
{
    onAllCores(std::int64_t((count + valueRun - 1) / valueRun), [&](std::int64_t run) {
        const std::size_t first = std::size_t(run) * valueRun;
        use(std::size_t(run), first, std::min(count, first + valueRun));
    });
}

/// The same with a part for each run: use(first, last, part); the parts, in order.
template <typename Part, typename Use>
std::vector<Part> inParts(std::size_t count, const Use &use)
{
    std::vector<Part> parts((count + valueRun - 1) / valueRun);
    inRuns(count, [&](std::size_t run, std::size_t first, std::size_t last) { use(first, last, parts[run]); });
    return parts;
}

} // namespace fulvex
