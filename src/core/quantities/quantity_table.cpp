#include "quantity_table.h"

#include <algorithm>
#include <vector>

namespace fulvex {

namespace {

EdgeChoice choiceOf(const std::string &text, EdgeChoice standard)
{
    if (text == "rising") return EdgeChoice::rising;
    if (text == "falling") return EdgeChoice::falling;
    if (text == "both") return EdgeChoice::both;
    return standard;
}

} // namespace

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
    static const QuantityGroup groups[] = {
        levelQuantities(),  timingQuantities(), pulseQuantities(),      clockQuantities(), // those of one channel first
        jitterQuantities(), eyeRowQuantities(), phaseNoiseQuantities(), sineQuantities(),  pairQuantities()};
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
