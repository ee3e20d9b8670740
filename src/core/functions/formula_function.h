#pragma once

#include "progress.h"
#include "sample_source.h"

#include <limits>
#include <span>
#include <string>
#include <vector>

namespace fulvex {

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
    choice,   ///< the first a number; that of the others, which must be the same
    gated,    ///< the first's; the second a number
    first,    ///< the first's, whatever the second is
    hertz,    ///< Hz
    seconds,  ///< s
    radians   ///< none
};

/// Those that may be left out come last, words behind constants.
struct FormulaArgument {
    const char *name;
    const char *unit = nullptr; ///< of a constant, made of numbers and parameters; null: a signal, or words
    double usual = std::numeric_limits<double>::quiet_NaN(); ///< of a constant that may be left out
    std::span<const char *const> words = {};                 ///< one of these, the first where it is left out
    bool maySignal = false; ///< a signal will do as well where a constant is wanted; its unit is looked at by nobody
    bool moments = false;   ///< the id of a row or clock will do as well; without a unit nothing else does
    bool optional() const { return usual == usual || !words.empty(); }
};

/// What a row's occurrences or a clock's unit intervals are to a formula.
struct FormulaMoments {
    TimeAxis axis;                 ///< that positions count on
    SourcePtr source;              ///< of a row: the channel that they were found in
    std::vector<double> positions; ///< samples, ascending
    std::vector<double> values;    ///< in the row's unit; none of a clock or an overlay
    double lasts = INFINITY;       ///< samples, of an overlay's laps; what lies behind them is none of theirs
};

/// What a function over time is made of.
struct FormulaOver {
    std::vector<SourcePtr> sources;
    std::vector<double> constants; ///< in their units
    std::vector<std::string> words;
    std::vector<FormulaMoments> moments;
    Progress &progress;
    /// Set: what would take a scan of the record may be estimated from what is around a block, and sets it to true.
    bool *estimated = nullptr;
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
