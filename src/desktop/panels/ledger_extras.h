#pragma once

#include "results.h"

#include <map>

namespace fulvex {

/// What of rows takes time and is shown on wish: medians, and statistics of what is in view alone.
struct LedgerExtras {
    struct Of {
        std::string id, unit;
        std::shared_ptr<const Measured> values;
        bool operator==(const Of &) const = default;
    };
    struct From {
        std::vector<Of> rows;
        bool medians = false;
        std::optional<std::pair<double, double>> view; ///< s
        bool operator==(const From &) const = default;
    };
    static LedgerExtras of(const From &from);
    std::map<std::string, std::string> median, inView; ///< in words, by row
};

} // namespace fulvex
