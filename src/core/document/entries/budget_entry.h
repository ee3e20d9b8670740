#pragma once

#include "field.h"

namespace fulvex {

/// What eats the unit interval of a clock's channel: its jitter taken apart, to an error ratio.
struct BudgetEntry {
    std::string id, clock;
    std::string region;              ///< empty: the whole record
    double ber = 1e-12;              ///< error ratio
    std::string method = "spectral"; ///< of the random part: spectral, tail
    NumberOrName pattern = "auto";   ///< its length in UI, auto, none
    std::optional<bool> data;        ///< transitions of data, or of a clock; empty: as they look
    std::optional<int> opening;      ///< of more than two levels, from the bottom up
    std::vector<double> without;     ///< Hz: lines that are left out
    std::optional<double> limit;     ///< UI: of what may be eaten
    bool operator==(const BudgetEntry &) const = default;
};

std::vector<Field> fieldsOf(BudgetEntry &entry);
void checkEntry(const BudgetEntry &entry, const std::string &where);

} // namespace fulvex
