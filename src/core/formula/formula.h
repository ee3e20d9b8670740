#pragma once

#include "progress.h"
#include "sample_source.h"
#include "unit.h"

#include <array>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// A formula over channels and parameters: + - * / ^, unary minus, parentheses, numbers with SI prefixes and units
/// ("20M", "1.5 mV"), and the functions of formulaFunctions(). Parsed into a graph in which what is written twice is
/// one node.
class Formula {
public:
    /// Throws Error whose `where` is the 1-based character in the text.
    static Formula parse(const std::string &text);
    /// The same formula in which one name is another. Throws as parse().
    static std::string renamed(const std::string &text, const std::string &from, const std::string &to);
    /// Ids in the order they are first named.
    std::vector<std::string> names() const { return m_names; }

    struct Node {
        enum class Kind { number, name, call } kind;
        double number = 0;                      ///< in units without prefix
        std::string unit = {};                  ///< that was written behind a number
        std::size_t index = 0;                  ///< into names, or into formulaFunctions()
        std::array<std::size_t, 2> arguments{}; ///< nodes before this one
        auto operator<=>(const Node &) const = default;
    };
    /// Arguments before what they are arguments of; the last is the result.
    const std::vector<Node> &nodes() const { return m_nodes; }
    /// All that the result follows from beside what stands behind the names: the same for formulas that differ in
    /// blanks, parentheses and names alone.
    std::string canonical() const;

    /// What a node is in: a unit; or nothing, as a bare number, which takes the unit of what it is added to. Unknown
    /// where units do not fit together.
    struct Type {
        bool known = true;
        std::optional<Unit> unit = {};
        std::optional<double> constant = {}; ///< its value, where it is always the same
    };
    /// The result's, from those of channels and parameters.
    Type typeOf(const std::function<Type(const std::string &)> &typeOfName) const;

    /// Gives what `make` makes of a part of a formula on a grid, or what it made the last time.
    using Keep =
        std::function<SourcePtr(const Formula &part, const TimeAxis &axis, const std::function<SourcePtr()> &make)>;
    /// The channel that the formula makes. `channelOf` gives null for an id that is no channel; those must be in
    /// `parameters`, or Error is thrown. The grid is that of the first channel named, over the span common to all.
    /// A result that is not finite is a gap. Parts that need a look at the whole record take it now, with `progress`;
    /// where `keep` is given, it is asked for each of them before.
    SourcePtr evaluate(const std::function<SourcePtr(const std::string &)> &channelOf,
                       const std::map<std::string, double> &parameters, Progress &progress,
                       const Keep &keep = {}) const;

private:
    struct Inputs;
    SourcePtr on(const TimeAxis &axis, const Inputs &inputs) const;
    Formula part(std::size_t node) const; ///< as a formula of its own
    /// Which nodes a node stands on, itself included; with those beneath functions that look at more than a sample.
    std::vector<bool> neededFor(std::size_t node, bool overTime) const;
    friend class FormulaSource;
    std::vector<std::string> m_names;
    std::vector<Node> m_nodes;
    /// Where each name stands in the text, as often as it stands there; by place.
    std::vector<std::pair<std::size_t, std::size_t>> m_places; ///< place, index into names
};

/// What unit a function's result has.
enum class UnitRule {
    alike,    ///< that of its arguments, which must be the same
    product,  ///< of its arguments' units
    quotient, ///< of them
    power,    ///< the first one's to the power of the second, a constant
    root,     ///< the square root
    rate,     ///< the argument's by the second
    total,    ///< the argument's times the second
    number    ///< none, of numbers without
};

/// A function of the table. One that looks at a sample at a time works on whole blocks, in place on its first argument.
/// One that looks at more (neighbours, all that came before, the whole record) makes a source over its only argument:
/// that reads what it needs around each block, keeps what it must know of the record, and gives the same bits whatever
/// block it is asked for. A scan of the record belongs into the making.
struct FormulaFunction {
    const char *name;
    int arguments;
    void (*apply)(std::span<double> first, std::span<const double> second);
    UnitRule unit;
    const char *help;
    SourcePtr (*over)(const SourcePtr &argument, Progress &progress) = nullptr; ///< then `apply` is null
};
std::span<const FormulaFunction> formulaFunctions();

} // namespace fulvex
