#pragma once

#include "quantity.h"

#include <span>
#include <string>

namespace fulvex {

/// Quantities that belong together, in the order in which they are offered.
struct QuantityGroup {
    const char *title;
    std::span<const Quantity> quantities;
};

QuantityGroup levelQuantities();
QuantityGroup timingQuantities();
QuantityGroup pulseQuantities();
QuantityGroup pairQuantities();
QuantityGroup bitQuantities();
QuantityGroup clockQuantities();
QuantityGroup jitterQuantities();
QuantityGroup eyeRowQuantities();
QuantityGroup phaseNoiseQuantities();
QuantityGroup sineQuantities();
QuantityGroup stabilityQuantities();

std::span<const QuantityGroup> quantityGroups();
std::span<const Quantity> quantities(); ///< of all groups
const Quantity *findQuantity(const std::string &name);
/// Whether it is told of a make-up of jitter.
bool isOfJitter(const Quantity &quantity);

} // namespace fulvex
