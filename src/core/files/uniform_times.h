#pragma once

#include "time_axis.h"

#include <functional>
#include <span>
#include <string>

namespace fulvex {

/// Start and interval of a column of times by its ends. `factor` brings them to s; `at(row)` names a row for messages.
/// Times printed with few digits are taken for what they mean. Throws Error where a time is missing, the times run
/// backwards, or they lie off a uniform grid.
TimeAxis uniformTimes(std::span<const double> times, double factor, const std::string &file,
                      const std::function<std::string(std::size_t)> &at);

} // namespace fulvex
