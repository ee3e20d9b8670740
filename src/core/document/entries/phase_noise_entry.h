#pragma once

#include "field.h"

namespace fulvex {

/// Phase noise of a carrier: of a channel, by a fixed clock that is found from it, or by a clock of the document.
struct PhaseNoiseEntry {
    std::string id;
    std::string source, clock; ///< one of them
    std::string region;        ///< empty: the whole record
    std::string levels = "default";
    std::optional<double> from, to; ///< Hz, what is integrated; empty: all that can be told
    bool lines = false;             ///< they count in the integral
    std::vector<double> except;     ///< Hz: lines of which the opposite holds
    std::optional<double> lowest;   ///< Hz: an offset that is wanted; what a record needs for it is said
    /// The highest that is allowed: straight lines over the logarithm of the offset between these points. Hz, dBc/Hz.
    std::vector<double> limitOffsets, limitLevels;
    std::optional<double> limitJitter; ///< s rms, between the limits of integration
    bool operator==(const PhaseNoiseEntry &) const = default;
};

std::vector<Field> fieldsOf(PhaseNoiseEntry &entry);
void checkEntry(const PhaseNoiseEntry &entry, const std::string &where);

} // namespace fulvex
