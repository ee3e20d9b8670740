// What a formula's result is in.

#include "formula.h"

#include <cmath>

namespace fulvex {

namespace {

using Type = Formula::Type;

Type unknown()
{
    return {.known = false};
}

/// Of numbers that are always the same, what the function makes of them.
std::optional<double> constantOf(const FormulaFunction &function, const Type &first, const Type &second)
{
    if (!function.apply || !first.constant || (function.arguments > 1 && !second.constant)) return {};
    double value = *first.constant;
    const double other = second.constant.value_or(0);
    function.apply({&value, 1}, {&other, 1});
    return value;
}

/// Numbers without a unit take the other's.
Type alike(const Type &first, const Type &second)
{
    if (!first.unit) return {true, second.unit, {}};
    if (!second.unit || *second.unit == *first.unit) return {true, first.unit, {}};
    return unknown();
}

Type powerOf(const Type &base, const Type &power)
{
    if (power.unit && !power.unit->isNumber()) return unknown();
    if (!base.unit) return {};
    if (base.unit->isNumber()) return {true, base.unit, {}};
    if (!power.constant || !(std::abs(*power.constant) <= 20)) return unknown();
    const double to = *power.constant;
    const Unit raised = base.unit->toThe(to);
    const bool exact = to == 0 || raised.toThe(1 / to) == *base.unit; // powers are kept in halves
    return exact ? Type{true, raised, {}} : unknown();
}

Type unitOf(const FormulaFunction &function, const Type &first, const Type &second)
{
    const bool one = function.arguments == 1;
    if (!first.known || (!one && !second.known)) return unknown();
    const auto bare = [](const Type &type) { return type.unit.value_or(Unit()); };
    switch (function.unit) {
    case UnitRule::alike:
        return one ? Type{true, first.unit, {}} : alike(first, second);
    case UnitRule::product:
        if (!first.unit && !second.unit) return {};
        return {true, bare(first).times(bare(second)), {}};
    case UnitRule::quotient:
        if (!first.unit && !second.unit) return {};
        return {true, bare(first).over(bare(second)), {}};
    case UnitRule::power:
        return powerOf(first, second);
    case UnitRule::root:
        return first.unit ? Type{true, first.unit->toThe(0.5), {}} : Type{};
    case UnitRule::rate:
        return {true, bare(first).over(Unit("s")), {}};
    case UnitRule::total:
        return {true, bare(first).times(Unit("s")), {}};
    case UnitRule::number:
        if (first.unit && !first.unit->isNumber()) return unknown();
        return {true, first.unit, {}};
    }
    return unknown();
}

} // namespace

Type Formula::typeOf(const std::function<Type(const std::string &)> &typeOfName) const
{
    std::vector<Type> types;
    for (const Node &node : m_nodes) {
        switch (node.kind) {
        case Node::Kind::number:
            types.push_back({true, node.unit.empty() ? std::nullopt : std::optional(Unit(node.unit)), node.number});
            break;
        case Node::Kind::name:
            types.push_back(typeOfName(m_names[node.index]));
            break;
        case Node::Kind::call: {
            const FormulaFunction &function = formulaFunctions()[node.index];
            const Type &first = types[node.arguments[0]], &second = types[node.arguments[1]];
            Type made = unitOf(function, first, second);
            made.constant = constantOf(function, first, second);
            types.push_back(std::move(made));
        }
        }
    }
    return types.back();
}

} // namespace fulvex
