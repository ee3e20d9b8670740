#pragma once

#include "sample_source.h"

#include <functional>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace fulvex {

/// A formula over channels and parameters, parsed: + - * / ^, unary minus, parentheses, numbers with SI prefixes and
/// units ("20M", "1.5 mV"), and the functions of formulaFunctions().
class Formula {
public:
    /// Throws Error whose `where` is the 1-based character in the text.
    static Formula parse(const std::string &text);
    /// The same formula in which one name is another. Throws as parse().
    static std::string renamed(const std::string &text, const std::string &from, const std::string &to);
    /// Ids in the order they are first named.
    std::vector<std::string> names() const { return m_names; }
    /// Whether the result has its channels' unit where they have one in common: a sum of them, or one times a number.
    bool keepsUnit(const std::function<bool(const std::string &)> &isChannel) const;
    /// The channel that the formula makes. `channelOf` gives null for an id that is no channel; those must be in
    /// `parameters`, or Error is thrown. The grid is that of the first channel named, over the span common to all.
    /// A result that is not finite is a gap.
    SourcePtr evaluate(const std::function<SourcePtr(const std::string &)> &channelOf,
                       const std::map<std::string, double> &parameters) const;

    struct Step {
        enum class Kind { constant, name, call } kind;
        double constant = 0;
        std::size_t index = 0; ///< into names, or into formulaFunctions()
    };
    const std::vector<Step> &steps() const { return m_steps; } ///< in the order of a stack machine

private:
    std::vector<std::string> m_names;
    std::vector<Step> m_steps;
    std::vector<std::size_t> m_places; ///< of each name in the text, as often as it stands there
};

/// A function of the table: works on whole blocks, in place on its first argument.
struct FormulaFunction {
    const char *name;
    int arguments;
    void (*apply)(std::span<double> first, std::span<const double> second);
    const char *help;
};
std::span<const FormulaFunction> formulaFunctions();

} // namespace fulvex
