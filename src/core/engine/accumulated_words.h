#pragma once

#include "results.h"

#include <set>
#include <sstream>

namespace fulvex {

using Provenance = std::vector<std::pair<std::string, std::string>>;

/// What is said of all alike; where they differ, that they do.
Provenance sharedBy(const std::vector<const Provenance *> &some);

/// How many captures a number is of, in place of what was said before.
void sayTogether(Provenance &provenance, std::string captures);

/// What captures give a channel or a row in: of unlike ones each unit, by alphabet, behind commas.
template <typename Entry>
std::string unitsOf(const std::vector<Results> &runs, std::vector<Entry> Results::*list, std::size_t index)
{
    std::set<std::string> units;
    for (const Results &run : runs) {
        std::istringstream words((run.*list)[index].unit);
        for (std::string unit; std::getline(words, unit, ',');) units.insert(unit);
    }
    std::string all;
    for (const std::string &unit : units) all += (all.empty() ? "" : ",") + unit;
    return all;
}

/// Why captures of those units are not of one thing; empty: there is one.
std::string unlike(const std::string &units);

} // namespace fulvex
