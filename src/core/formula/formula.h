#pragma once

#include "formula_function.h"
#include "unit.h"

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// A formula over channels and parameters: + - * / ^, unary minus, comparisons (1 or 0), parentheses, numbers with SI
/// prefixes and units ("20M", "1.5 mV"), and the functions of formulaFunctions(). Parsed into a graph in which what is
/// written twice is one node.
class Formula {
public:
    /// A function of one's own: a formula over arguments, and whatever else it names.
    struct Own {
        std::vector<std::string> arguments;
        std::string formula = {};
        /// It is a program of the user's, not a formula: of its arguments so many are signals, the others constants.
        std::optional<std::size_t> inputs = {};
        std::string unit = {}; ///< of what a program gives; empty: that of its first signal
        bool operator==(const Own &) const = default;
    };
    using OwnFunctions = std::map<std::string, Own>;
    /// Calls of own functions are replaced by what these are. Throws Error whose `where` is the 1-based character in
    /// the text; of something wrong within an own function, that of its call.
    static Formula parse(const std::string &text, const OwnFunctions &own = {});
    /// Ids that a text names, those of own functions included, whatever these are, without the ones in `locals`. Throws
    /// as parse().
    static std::vector<std::string> namesIn(const std::string &text, const std::vector<std::string> &locals = {});
    /// The same formula in which one of those names is another.
    static std::string renamed(const std::string &text, const std::string &from, const std::string &to);
    /// Ids in the order they are first named.
    std::vector<std::string> names() const { return m_names; }

    struct Node {
        enum class Kind { number, name, call, word, program } kind;
        double number = 0;                       ///< in units without prefix
        std::string unit = {};                   ///< that was written behind a number; a word itself; a program's
        std::size_t index = 0;                   ///< into names (a program's as well), or into formulaFunctions()
        std::size_t inputs = 0;                  ///< of a program: so many of its arguments are
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
        bool changes = false;                ///< over time
    };
    /// The result's, from those of channels and parameters. Throws Error where units do not fit together, with the
    /// 1-based character of what joins them.
    Type typeOf(const std::function<Type(const std::string &)> &typeOfName) const;

    struct Span {
        double start, stop; ///< s, both included
        bool operator==(const Span &) const = default;
    };
    /// What names stand for, and what is kept.
    struct Inputs {
        std::function<SourcePtr(const std::string &)> channelOf; ///< null for an id that is no channel
        std::map<std::string, double> parameters;
        std::map<std::string, Span> regions; ///< 1 within, 0 beside
        /// Where it is set, asked for each part that needs a look at the whole record: gives what `make` makes of it,
        /// or made the last time.
        std::function<SourcePtr(const Formula &part, const std::function<SourcePtr()> &make)> keep = {};
        /// Nothing for an id that is neither a row nor a clock.
        std::function<std::optional<FormulaMoments>(const std::string &)> momentsOf = {};
        /// What a program makes of signals on one grid, each with the formula that it is, and of constants. Where
        /// it is not set, none runs.
        std::function<SourcePtr(const std::string &program, const std::vector<Formula> &formulas,
                                const std::vector<SourcePtr> &sources, const std::vector<double> &constants)>
            run = {};
        /// See FormulaOver.
        bool *estimated = nullptr;
    };
    /// The channel that the formula makes. What is worked on sample by sample lies on the grid of the channel (or
    /// resampled channel) that is named first in it, over the span common to all. A result that is not finite is a
    /// gap. Parts that need a look at the whole record take it now, with `progress`. Throws Error, at its place where
    /// it has one.
    SourcePtr evaluate(const Inputs &inputs, Progress &progress) const;

private:
    /// What a node is that lies on a grid by itself, a channel or a function over time; null for others.
    SourcePtr sourceOf(std::size_t node, const Inputs &inputs, Progress &progress) const;
    SourcePtr madeOver(std::size_t node, const Inputs &inputs, Progress &progress) const;
    SourcePtr madeByProgram(std::size_t node, const Inputs &inputs, Progress &progress) const;
    SourcePtr source(const Inputs &inputs, Progress &progress) const; ///< the result
    bool changes(std::size_t node, const Inputs &inputs) const;       ///< over time
    Formula part(std::size_t node) const;                             ///< as a formula of its own
    /// Which nodes a node stands on, itself included; with those beneath functions that look at more than a sample.
    std::vector<bool> neededFor(std::size_t node, bool overTime) const;
    friend class FormulaSource;
    friend class FormulaParser;
    /// What a node is that stands at a place or behind it, from numbers and parameters; Error where it changes over
    /// time.
    double constantOf(std::size_t node, std::size_t from, const Inputs &inputs) const;
    std::string placeOf(std::size_t node) const; ///< for messages
    /// Of a name that stands at a place or behind it, though it may stand elsewhere before.
    std::string placeAt(std::size_t node, std::size_t from) const;
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

} // namespace fulvex
