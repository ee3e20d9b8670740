#pragma once

#include "quantity_table.h"

namespace fulvex::test {

/// Ids of what rows may be measured of.
struct RowSubjects {
    std::string channel, to, clock, eye;
};

/// A row of a quantity with all that it takes to be measured, its name as its id.
inline MeasurementEntry rowOf(const Quantity &quantity, const RowSubjects &of)
{
    MeasurementEntry entry;
    entry.id = entry.quantity = quantity.name;
    if (quantity.takes("source")) entry.source = of.channel;
    if (quantity.takes("to")) entry.to = of.to;
    if (quantity.needs == Needs::clock) entry.clock = of.clock;
    if (quantity.takes("eye")) entry.eye = of.eye;
    if (quantity.takes("gap")) entry.gap = 2e-9;
    if (quantity.takes("above")) entry.above = -0.2, entry.below = 0.3;
    if (quantity.takes("offset")) entry.offset = 1e7;
    if (quantity.takes("cycles")) entry.cycles = 3;
    if (quantity.takes("averaging")) entry.averaging = 1e-8;
    if (quantity.takes("corner")) entry.corner = 1e7;
    return entry;
}

} // namespace fulvex::test
