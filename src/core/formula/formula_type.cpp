// What a formula's result is in.

#include "error.h"
#include "formula.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Type = Formula::Type;

/// Units that do not fit together; becomes an Error with its place.
struct Mismatch {
    std::string what, remedy;
};

std::string nameOf(const Unit &unit)
{
    return unit.isNumber() ? "a number" : unit.text();
}

/// Of numbers that are always the same, what the function makes of them.
std::optional<double> constantOf(const FormulaFunction &function, const std::vector<Type> &arguments)
{
    std::vector<double> numbers;
    for (const Type &argument : arguments) {
        if (!argument.constant) return {};
        numbers.push_back(*argument.constant);
    }
    if (!function.apply) return {};
    std::vector<std::span<const double>> others;
    for (std::size_t i = 1; i < numbers.size(); ++i) others.push_back({&numbers[i], 1});
    function.apply({numbers.data(), 1}, others);
    return numbers.front();
}

Unit bare(const Type &type)
{
    return type.unit.value_or(Unit());
}

/// Numbers without a unit take the other's, and what nobody stated gives way to what somebody did.
Type alike(const char *function, std::span<const Type> arguments)
{
    Type made = {arguments.front().unit, {}, arguments.front().assumed};
    for (const Type &next : arguments.subspan(1)) {
        if (!next.unit || (next.assumed && made.unit)) continue;
        if (made.unit && !made.assumed && *made.unit != *next.unit)
            throw Mismatch{nameOf(*made.unit) + " and " + nameOf(*next.unit) + " do not fit together in \"" + function +
                               "\"",
                           "bring both to one unit, by a factor such as 1 V/A, or correct a channel's unit"};
        made.unit = next.unit;
        made.assumed = next.assumed;
    }
    return made;
}

void needNumber(const char *function, const Type &argument)
{
    if (argument.unit && !argument.assumed && !argument.unit->isNumber())
        throw Mismatch{std::string(function) + " is of numbers, not of " + argument.unit->text(),
                       "divide by what it is to be told in, such as 1 " + argument.unit->text()};
}

Type powerOf(const Type &base, const Type &power)
{
    needNumber("a power", power);
    if (!base.unit) return {};
    if (base.unit->isNumber()) return {base.unit};
    const auto wrong = [](const std::string &what) {
        return Mismatch{what, "take a whole or half power of it, or of a ratio"};
    };
    if (!power.constant || !(std::abs(*power.constant) <= 20))
        throw wrong("a power of " + base.unit->text() + " that is no constant up to 20");
    const double to = *power.constant;
    const Unit raised = base.unit->toThe(to);
    if (to != 0 && !(raised.toThe(1 / to) == *base.unit)) // powers are kept in halves
        throw wrong("a power of " + base.unit->text() + " that makes no unit");
    return {raised, {}, base.assumed};
}

Type unitOf(const FormulaFunction &function, std::span<const Type> arguments)
{
    const Type &first = arguments.front();
    const bool assumed = std::any_of(arguments.begin(), arguments.end(), [](const Type &type) { return type.assumed; });
    switch (function.unit) {
    case UnitRule::alike:
        return alike(function.name, arguments);
    case UnitRule::product:
        if (!first.unit && !arguments[1].unit) return {};
        return {bare(first).times(bare(arguments[1])), {}, assumed};
    case UnitRule::quotient:
        if (!first.unit && !arguments[1].unit) return {};
        return {bare(first).over(bare(arguments[1])), {}, assumed};
    case UnitRule::power:
        return powerOf(first, arguments[1]);
    case UnitRule::root:
        return first.unit ? Type{first.unit->toThe(0.5), {}, assumed} : Type{};
    case UnitRule::rate:
        return {bare(first).over(Unit("s")), {}, assumed};
    case UnitRule::total:
        return {bare(first).times(Unit("s")), {}, assumed};
    case UnitRule::number:
        needNumber(function.name, first);
        return first.unit ? Type{Unit()} : Type{};
    case UnitRule::ratio:
        alike(function.name, arguments);
        return {Unit()};
    case UnitRule::choice:
        needNumber("a condition", first);
        return alike(function.name, arguments.subspan(1));
    case UnitRule::gated:
        needNumber("a condition", arguments[1]);
        return first;
    case UnitRule::first:
        return first;
    case UnitRule::hertz:
        return {Unit("Hz")};
    case UnitRule::seconds:
        return {Unit("s")};
    case UnitRule::radians:
        return {Unit()};
    }
    return {};
}

/// Of a call: its constants' units are looked at, the sources' make the result's.
Type typeOfCall(const FormulaFunction &function, const std::vector<Type> &arguments)
{
    std::vector<Type> sources;
    for (std::size_t i = 0; i < arguments.size(); ++i) {
        const FormulaArgument &wanted = function.arguments[i];
        if (!wanted.words.empty()) continue;
        if (!wanted.unit || (wanted.maySignal && arguments[i].changes))
            sources.push_back(arguments[i]);
        else if (arguments[i].unit && *arguments[i].unit != Unit(wanted.unit))
            throw Mismatch{std::string(wanted.name) + " of " + function.name + " in " + nameOf(*arguments[i].unit) +
                               ", where " + nameOf(Unit(wanted.unit)) + " is wanted",
                           function.help};
    }
    Type made = unitOf(function, sources);
    made.assumed &= made.unit && !made.unit->isNumber(); // a ratio is one, whatever it is of
    made.constant = constantOf(function, arguments);
    made.changes = std::any_of(arguments.begin(), arguments.end(), [](const Type &type) { return type.changes; });
    return made;
}

} // namespace

Type Formula::typeOf(const std::function<Type(const std::string &)> &typeOfName) const
{
    std::vector<Type> types;
    for (const Node &node : m_nodes) {
        switch (node.kind) {
        case Node::Kind::number:
            types.push_back({node.unit.empty() ? std::nullopt : std::optional(Unit(node.unit)), node.number});
            break;
        case Node::Kind::word:
            types.emplace_back();
            break;
        case Node::Kind::name:
            types.push_back(typeOfName(m_names[node.index]));
            break;
        case Node::Kind::program: { // whatever its constants are in
            Type made = types[node.arguments.front()];
            if (!node.unit.empty()) made = {Unit(node.unit)};
            made.constant.reset();
            made.changes = true;
            types.push_back(made);
            break;
        }
        case Node::Kind::call: {
            std::vector<Type> arguments;
            for (const std::size_t argument : node.arguments) arguments.push_back(types[argument]);
            try {
                types.push_back(typeOfCall(formulaFunctions()[node.index], arguments));
            } catch (const Mismatch &mismatch) {
                throw Error(placeOf(types.size()), mismatch.what, mismatch.remedy);
            }
        }
        }
    }
    return types.back();
}

} // namespace fulvex
