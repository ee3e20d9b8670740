#pragma once

#include "progress.h"
#include "sample_source.h"
#include "unit.h"

#include <functional>
#include <limits>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// A formula over channels and parameters: + - * / ^, unary minus, comparisons (1 or 0), parentheses, numbers with SI
/// prefixes and units ("20M", "1.5 mV"), and the functions of formulaFunctions(). Parsed into a graph in which what is
/// written twice is one node.
class Formula {
public:
    /// Throws Error whose `where` is the 1-based character in the text.
    static Formula parse(const std::string &text);
    /// The same formula in which one name is another. Throws as parse().
    static std::string renamed(const std::string &text, const std::string &from, const std::string &to);
    /// Ids in the order they are first named.
    std::vector<std::string> names() const { return m_names; }

    struct Node {
        enum class Kind { number, name, call, word } kind;
        double number = 0;                       ///< in units without prefix
        std::string unit = {};                   ///< that was written behind a number; a word itself
        std::size_t index = 0;                   ///< into names, or into formulaFunctions()
        std::vector<std::size_t> arguments = {}; ///< nodes before this one, as many as the function takes
        auto operator<=>(const Node &) const = default;
    };
    /// Arguments before what they are arguments of; the last is the result.
    const std::vector<Node> &nodes() const { return m_nodes; }
    /// All that the result follows from beside what stands behind the names: the same for formulas that differ in
    /// blanks, parentheses and names alone.
    std::string canonical() const;

    /// What a node is in: a unit; or nothing, as a bare number, which takes the unit of what it is added to.
    struct Type {
        std::optional<Unit> unit = {};
        std::optional<double> constant = {}; ///< its value, where it is always the same
        bool assumed = false;                ///< nobody stated the unit: beside one that was stated it is that
    };
    /// The result's, from those of channels and parameters. Throws Error where units do not fit together, with the
    /// 1-based character of what joins them.
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
    friend class FormulaParser;
    /// What a node is that stands at a place or behind it, from numbers and parameters; Error where it changes over
    /// time.
    double constantOf(std::size_t node, std::size_t from, const Inputs &inputs) const;
    std::string placeOf(std::size_t node) const; ///< for messages
    std::vector<std::string> m_names;
    std::vector<Node> m_nodes;
    struct Place {
        std::size_t at;                     ///< first in the text
        std::vector<std::size_t> arguments; ///< where those of a named function begin there
    };
    std::vector<Place> m_where; ///< of each node
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
    number,   ///< none, of numbers without
    ratio,    ///< none, of what is alike
    choice    ///< the first a number; that of the others, which must be the same
};

/// Those that may be left out come last, words behind constants.
struct FormulaArgument {
    const char *name;
    const char *unit = nullptr; ///< of a constant, made of numbers and parameters; null: a signal, or words
    double usual = std::numeric_limits<double>::quiet_NaN(); ///< of a constant that may be left out
    std::span<const char *const> words = {};                 ///< one of these, the first where it is left out
    bool optional() const { return usual == usual || !words.empty(); }
};

/// What a function over time is made of.
struct FormulaOver {
    std::vector<SourcePtr> sources;
    std::vector<double> constants; ///< in their units
    std::vector<std::string> words;
    Progress &progress;
};

/// A function of the table. One that looks at a sample at a time works on whole blocks, in place on its first argument.
/// One that looks at more (neighbours, all that came before, the whole record) makes a source over its signals: that
/// reads what it needs around each block, keeps what it must know of the record, and gives the same bits whatever block
/// it is asked for. A scan of the record belongs into the making. Error of a constant that does not do has no place: it
/// is given that of the function.
struct FormulaFunction {
    const char *name;
    std::span<const FormulaArgument> arguments;
    void (*apply)(std::span<double> first, std::span<const std::span<const double>> others);
    UnitRule unit;
    const char *help;
    SourcePtr (*over)(const FormulaOver &of) = nullptr; ///< then `apply` is null
};
std::span<const FormulaFunction> formulaFunctions();

} // namespace fulvex
