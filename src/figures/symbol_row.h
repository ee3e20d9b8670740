#pragma once

#include "results.h"

#include <vector>

namespace fulvex {

/// The decided symbols of some unit intervals of a clock, as they stand under a trace. May be made on any thread.
struct SymbolRow {
    struct From {
        SourcePtr samples;
        std::shared_ptr<const Clock> by;
        std::vector<double> thresholds;
        SampleRange unitIntervals; ///< few: those that a screen shows
        bool operator==(const From &) const = default;
    };
    static SymbolRow of(const From &from);

    SampleRange unitIntervals;
    std::vector<std::uint8_t> symbols;
};

} // namespace fulvex
