#include "quantity_table.h"

#include <algorithm>
#include <vector>

namespace fulvex {

EdgeChoice choiceOf(const std::string &word, EdgeChoice standard)
{
    if (word == "rising") return EdgeChoice::rising;
    if (word == "falling") return EdgeChoice::falling;
    if (word == "both") return EdgeChoice::both;
    return standard;
}

void needOpening(std::optional<int> opening, std::size_t openings)
{
    if (!opening || std::size_t(*opening) < openings) return;
    throw Unmeasurable{"the eye has " + std::to_string(openings) + (openings == 1 ? " opening" : " openings") +
                       ": give \"opening\" " +
                       (openings == 1 ? std::string("0 or none") : "0 to " + std::to_string(openings - 1)) +
                       ", or the clock its \"modulation\""};
}

EdgeChoice QuantityInputs::edge(EdgeChoice standard) const
{
    return choiceOf(entry().edge, standard);
}

EdgeChoice QuantityInputs::toEdge(EdgeChoice standard) const
{
    return choiceOf(entry().toEdge, standard);
}

bool Quantity::takes(std::string_view key) const
{
    if (key == "source") return needs == Needs::source;
    if (key == "clock" && needs == Needs::clock) return true;
    if (key == "eye") return needs == Needs::eye;
    for (std::string_view rest = settings; !rest.empty();) {
        const std::size_t end = std::min(rest.find(' '), rest.size());
        if (rest.substr(0, end) == key) return true;
        rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    return false;
}

std::span<const QuantityGroup> quantityGroups()
{
    static const QuantityGroup groups[] = {levelQuantities(),      timingQuantities(),    pulseQuantities(),
                                           clockQuantities(), // those of one channel first
                                           bitQuantities(),        jitterQuantities(),    eyeRowQuantities(),
                                           phaseNoiseQuantities(), stabilityQuantities(), sineQuantities(),
                                           pairQuantities()};
    return groups;
}

std::span<const Quantity> quantities()
{
    static const std::vector<Quantity> all = [] {
        std::vector<Quantity> list;
        for (const QuantityGroup &group : quantityGroups())
            list.insert(list.end(), group.quantities.begin(), group.quantities.end());
        return list;
    }();
    return all;
}

const Quantity *findQuantity(const std::string &name)
{
    for (const Quantity &quantity : quantities()) {
        if (name == quantity.name) return &quantity;
    }
    return nullptr;
}

} // namespace fulvex
