#include "formula_function.h"
#include "functions.h"
#include "widest_vectors.h"

#include <cmath>
#include <functional>
#include <limits>

namespace fulvex {

namespace {

using Out = std::span<double>;
using Others = std::span<const std::span<const double>>;

template <auto operation>
FULVEX_WIDEST_VECTORS void unary(Out a, Others)
{
    for (double &value : a) value = operation(value);
}

template <auto operation>
FULVEX_WIDEST_VECTORS void binary(Out a, Others others)
{
    const auto b = others[0];
    for (std::size_t i = 0; i < a.size(); ++i) a[i] = operation(a[i], b[i]);
}

template <auto operation>
FULVEX_WIDEST_VECTORS void ternary(Out a, Others others)
{
    const auto b = others[0], c = others[1];
    for (std::size_t i = 0; i < a.size(); ++i) a[i] = operation(a[i], b[i], c[i]);
}

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

/// 1 where it holds, 0 where not; a gap beside one.
template <auto holds>
constexpr auto compared = [](double a, double b) {
    const bool there = (a == a) & (b == b); // both, so that there is no branch
    return there ? (holds(a, b) ? 1.0 : 0.0) : nan;
};

constexpr double lesser(double a, double b)
{
    return a < b ? a : b != b ? b : a != a ? a : b;
}
constexpr double greater(double a, double b)
{
    return b < a ? a : b != b ? b : a != a ? a : b;
}

constexpr const char *shapes[] = {"butterworth", "bessel", "fir"}, *ways[] = {"forward", "zerophase"},
                     *sides[] = {"upper", "lower"}, *trends[] = {"line", "mean"};
constexpr FormulaArgument orderOf{"order", "", 2}, shape{"shape", nullptr, nan, shapes}, way{"way", nullptr, nan, ways};
constexpr FormulaArgument one[] = {{"a"}}, two[] = {{"a"}, {"b"}}, pair[] = {{"p"}, {"n"}},
                          limits[] = {{"a"}, {"low"}, {"high"}}, choice[] = {{"condition"}, {"a"}, {"b"}},
                          point[] = {{"y"}, {"x"}}, gated[] = {{"a"}, {"condition"}}, late[] = {{"a"}, {"time", "s"}},
                          edge[] = {{"a"}, {"time", "s"}, {"side", nullptr, nan, sides}},
                          line[] = {{"a"}, {"trend", nullptr, nan, trends}},
                          filter[] = {{"a"}, {"corner", "Hz"}, orderOf, shape, way},
                          band[] = {{"a"}, {"low", "Hz"}, {"high", "Hz"}, orderOf, shape, way},
                          taps[] = {{"a"},          {"spacing", "s"}, {"c0", ""},     {"c1", "", 0},  {"c2", "", 0},
                                    {"c3", "", 0},  {"c4", "", 0},    {"c5", "", 0},  {"c6", "", 0},  {"c7", "", 0},
                                    {"c8", "", 0},  {"c9", "", 0},    {"c10", "", 0}, {"c11", "", 0}, {"c12", "", 0},
                                    {"c13", "", 0}, {"c14", "", 0},   {"c15", "", 0}},
                          emphasis[] = {{"a"}, {"spacing", "s"}, {"ratio", ""}}, rate[] = {{"a"}, {"rate", "Hz"}},
                          times[] = {{"a"}, {"factor", ""}}, against[] = {{"a"}, {"nominal", "Hz", 0}},
                          carried[] = {{"a"}, {"carrier", "Hz"}, {"bandwidth", "Hz"}},
                          repeats[] = {{"a"}, {"repeat", "s", nan, {}, true, true}, {"every", "", 1}},
                          row[] = {{"row", nullptr, nan, {}, false, true}},
                          boost[] = {{"a"}, {"zero", "Hz"}, {"pole", "Hz"}, {"second_pole", "Hz"}};

constexpr FormulaFunction functions[] = {
    {"+", two, binary<[](double a, double b) { return a + b; }>, UnitRule::alike, "sum"},
    {"-", two, binary<[](double a, double b) { return a - b; }>, UnitRule::alike, "difference"},
    {"*", two, binary<[](double a, double b) { return a * b; }>, UnitRule::product, "product"},
    {"/", two, binary<[](double a, double b) { return a / b; }>, UnitRule::quotient, "quotient"},
    {"^", two, binary<[](double a, double b) { return std::pow(a, b); }>, UnitRule::power, "power"},
    {"<", two, binary<compared<std::less<>{}>>, UnitRule::ratio, "1 where a lies below b"},
    {">", two, binary<compared<std::greater<>{}>>, UnitRule::ratio, "1 where a lies above b"},
    {"<=", two, binary<compared<std::less_equal<>{}>>, UnitRule::ratio, "1 where a does not lie above b"},
    {">=", two, binary<compared<std::greater_equal<>{}>>, UnitRule::ratio, "1 where a does not lie below b"},
    {"negated", one, unary<[](double a) { return -a; }>, UnitRule::alike, "negated(a): the sign turned round"},
    {"abs", one, unary<[](double a) { return std::abs(a); }>, UnitRule::alike, "abs(a): magnitude"},
    {"sqrt", one, unary<[](double a) { return std::sqrt(a); }>, UnitRule::root, "sqrt(a): square root; a gap below 0"},
    {"exp", one, unary<[](double a) { return std::exp(a); }>, UnitRule::number, "exp(a): e to the power of a"},
    {"ln", one, unary<[](double a) { return std::log(a); }>, UnitRule::number,
     "ln(a): natural logarithm; a gap up to 0"},
    {"log10", one, unary<[](double a) { return std::log10(a); }>, UnitRule::number,
     "log10(a): decimal logarithm; a gap up to 0"},
    {"sin", one, unary<[](double a) { return std::sin(a); }>, UnitRule::number, "sin(a): sine of radians"},
    {"cos", one, unary<[](double a) { return std::cos(a); }>, UnitRule::number, "cos(a): cosine of radians"},
    {"atan2", point, binary<[](double y, double x) { return std::atan2(y, x); }>, UnitRule::ratio,
     "atan2(y, x): angle of the point x, y in radians, above -pi and up to pi"},
    {"min", two, binary<lesser>, UnitRule::alike, "min(a, b): the smaller"},
    {"max", two, binary<greater>, UnitRule::alike, "max(a, b): the larger"},
    {"clip", limits, ternary<[](double a, double low, double high) { return lesser(greater(a, low), high); }>,
     UnitRule::alike, "clip(a, low, high): a where it lies between both, else the nearer of them"},
    {"choose", choice, ternary<[](double c, double a, double b) { return c != c   ? nan
                                                                         : c != 0 ? a
                                                                                  : b; }>,
     UnitRule::choice, "choose(condition, a, b): a where the condition is not 0, else b"},
    {"gate", gated,
     binary<[](double a, double condition) { return condition == condition && condition != 0 ? a : nan; }>,
     UnitRule::gated, "gate(a, condition): a where the condition is not 0, else a gap"},
    {"common", pair, binary<[](double p, double n) { return (p + n) / 2; }>, UnitRule::alike,
     "common(p, n): what a pair has in common, the mean of both"},
    {"derivative", one, nullptr, UnitRule::rate,
     "derivative(a): slope from the sample before to the one behind, per second; at the ends and beside gaps to the "
     "one neighbour",
     derivativeOf},
    {"integral", one, nullptr, UnitRule::total,
     "integral(a): sum of trapezoids from the first sample on, times a second, 0 there; an offset of a makes a ramp of "
     "it; nothing is added across gaps",
     integralOf},
    {"detrend", line, nullptr, UnitRule::alike,
     "detrend(a, trend): without its straight line of least squares, or without its mean alone: line or mean",
     detrendOf},
    {"delay", late, nullptr, UnitRule::alike,
     "delay(a, time): what was so long before; band-limited between samples, a gap where nothing was", delayOf},
    {"smooth", late, nullptr, UnitRule::alike,
     "smooth(a, time): mean over so long a time about each sample, an odd number of them; without gaps, and over fewer "
     "at the ends",
     smoothOf},
    {"rms", late, nullptr, UnitRule::alike, "rms(a, time): root of the mean square over a window, as smooth",
     movingRmsOf},
    {"median", late, nullptr, UnitRule::alike, "median(a, time): the middle value of a window, as smooth", medianOf},
    {"envelope", edge, nullptr, UnitRule::alike,
     "envelope(a, time, side): the largest value of a window, as smooth, or the smallest: upper or lower", envelopeOf},
    {"lowpass", filter, nullptr, UnitRule::alike,
     "lowpass(a, corner, order, shape, way): what lies below the corner, where the gain is 1 / sqrt 2; order 1 to 10, "
     "2 "
     "where it is left out; butterworth, bessel or fir; forward as a circuit would, or zerophase. The first value had "
     "been there for ever",
     lowpassOf},
    {"highpass", filter, nullptr, UnitRule::alike,
     "highpass(a, corner, order, shape, way): what lies above the corner, as lowpass", highpassOf},
    {"bandpass", band, nullptr, UnitRule::alike,
     "bandpass(a, low, high, order, shape, way): what lies between two corners, each side of the order, as lowpass",
     bandpassOf},
    {"bandstop", band, nullptr, UnitRule::alike,
     "bandstop(a, low, high, order, shape, way): what does not lie between two corners, as bandpass", bandstopOf},
    {"equalise", boost, nullptr, UnitRule::alike,
     "equalise(a, zero, pole, second_pole): gain 1 at 0, rising from the zero on, falling from each pole on, forward "
     "as "
     "a circuit would",
     equaliseOf},
    {"taps", taps, nullptr, UnitRule::first,
     "taps(a, spacing, c0, c1, c2, c3, c4, c5, c6, c7, c8, c9, c10, c11, c12, c13, c14, c15): c0 times the signal, c1 "
     "times what was a spacing before, and "
     "so on",
     tapsOf},
    {"emphasise", emphasis, nullptr, UnitRule::first,
     "emphasise(a, spacing, ratio): what changed within a spacing, such as a unit interval, so many times larger "
     "beside "
     "what stays; less than 1 takes an emphasis away",
     emphasiseOf},
    {"resample", rate, nullptr, UnitRule::first,
     "resample(a, rate): band-limited at another sample rate, on a grid of its own; filtered before where that is "
     "lower",
     resampleOf},
    {"interpolate", times, nullptr, UnitRule::first,
     "interpolate(a, factor): at a whole multiple of the sample rate, band-limited, its own samples as they are",
     interpolateOf},
    {"average", repeats, nullptr, UnitRule::first,
     "average(a, repeat, every): mean of all repeats, in the place of each; a period, a trigger signal at whose rising "
     "edges they begin, a clock, a row at whose occurrences they do, or an overlay, as long as its laps; of these "
     "every "
     "so many, such as a pattern's length",
     averageOf},
    {"trend", row, nullptr, UnitRule::first,
     "trend(row): values of a row over time, a straight line from each to the next", trendOf},
    {"frequency", one, nullptr, UnitRule::hertz,
     "frequency(a): of each period between rising edges, a straight line from one's middle to the next", frequencyOf},
    {"period", one, nullptr, UnitRule::seconds,
     "period(a): between rising edges, a straight line from one's middle to the next", periodOf},
    {"phase", against, nullptr, UnitRule::radians,
     "phase(a, nominal): by how many radians rising edges are early, against a frequency, or where none is given "
     "against "
     "their straight line of least squares",
     phaseOf},
    {"am", carried, nullptr, UnitRule::first,
     "am(a, carrier, bandwidth): amplitude of a carrier, zero-phase Bessel filter of order 4", amOf},
    {"fm", carried, nullptr, UnitRule::hertz,
     "fm(a, carrier, bandwidth): by how much a carrier's frequency lies above the one given, filtered as am", fmOf},
};

} // namespace

std::span<const FormulaFunction> formulaFunctions()
{
    return functions;
}

} // namespace fulvex
