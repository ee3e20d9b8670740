#pragma once

#include <cmath>
#include <cstddef>
#include <optional>
#include <vector>

namespace fulvex {

/// Standard uncertainty of an estimate, from what it would be without each of some parts of the data one by one.
/// Parts that follow on each other in time and last longer than what hangs together in it make it hold for data that
/// do hang together. None with fewer than 4 parts, or where an estimate is no number.
/// `estimateWithout(part)`: of all but that part.
/// Source: P. S. Kott, "The Delete-a-Group Jackknife", Journal of Official Statistics 17 (2001).
template <typename EstimateWithout>
std::optional<double> jackknifeUncertainty(std::size_t parts, EstimateWithout &&estimateWithout)
{
    if (parts < 4) return {};
    std::vector<double> estimates(parts);
    double mean = 0;
    for (std::size_t part = 0; part < parts; ++part) {
        estimates[part] = estimateWithout(part);
        mean += estimates[part] / double(parts);
    }
    double scatter = 0;
    for (const double one : estimates) scatter += (one - mean) * (one - mean);
    const double found = std::sqrt(scatter * double(parts - 1) / double(parts));
    return std::isfinite(found) ? std::optional(found) : std::nullopt;
}

/// Into how many parts data are cut for that.
constexpr std::size_t jackknifeParts = 24;

} // namespace fulvex
