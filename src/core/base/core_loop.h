#pragma once

#include <cstdint>
#include <functional>

namespace fulvex {

/// Calls `work` once for each of 0 to count - 1 on all cores, in no order, and returns when all of them are over. The
/// first exception ends the loop (calls not yet begun are left out) and is thrown here. Calls may run loops themselves;
/// a loop that returns has made all of its calls, whatever happens to others.
void onAllCores(std::int64_t count, const std::function<void(std::int64_t)> &work);

/// How many calls of a loop may run at a time.
std::int64_t coreCount();

} // namespace fulvex
