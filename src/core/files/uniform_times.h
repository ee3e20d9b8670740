#pragma once

#include "time_axis.h"

#include <functional>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

struct UniformTimes {
    TimeAxis axis;
    std::string doubt; ///< not empty: the times are not quite uniform, by how much, and what that does to results
};

/// Start and interval of a column of times by its ends. `factor` brings them to s; `at(row)` names a row for messages.
/// Times printed with few digits are taken for what they mean; those that scatter within three quarters of an interval
/// are taken as uniform, with a doubt. Throws Error where a time is missing, the times run backwards, or they lie off a
/// uniform grid.
UniformTimes uniformTimes(std::span<const double> times, double factor, const std::string &file,
                          const std::function<std::string(std::size_t)> &at);

/// Where rows are left out of a table whose times lie on a uniform grid: the place of each row on that grid, from 0,
/// and behind them the number of places. Empty where no row is missing, where the times lie on no grid (to a quarter of
/// its step), or where more would be gaps than samples.
std::vector<std::int64_t> placesOnGrid(std::span<const double> times);

/// A column on such a grid; gaps where no row is.
std::vector<double> spreadOver(std::span<const std::int64_t> places, std::span<const double> column);

} // namespace fulvex
