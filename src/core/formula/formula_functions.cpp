#include "filters.h"
#include "formula.h"
#include "functions_over_time.h"

#include <cmath>
#include <functional>
#include <limits>

namespace fulvex {

namespace {

using Out = std::span<double>;
using Others = std::span<const std::span<const double>>;

template <auto operation>
void unary(Out a, Others)
{
    for (double &value : a) value = operation(value);
}

template <auto operation>
void binary(Out a, Others others)
{
    const auto b = others[0];
    for (std::size_t i = 0; i < a.size(); ++i) a[i] = operation(a[i], b[i]);
}

template <auto operation>
void ternary(Out a, Others others)
{
    const auto b = others[0], c = others[1];
    for (std::size_t i = 0; i < a.size(); ++i) a[i] = operation(a[i], b[i], c[i]);
}

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

/// 1 where it holds, 0 where not; a gap beside one.
template <auto holds>
constexpr auto compared = [](double a, double b) { return a == a && b == b ? double(holds(a, b)) : nan; };

constexpr double lesser(double a, double b)
{
    return a < b ? a : b != b ? b : a != a ? a : b;
}
constexpr double greater(double a, double b)
{
    return b < a ? a : b != b ? b : a != a ? a : b;
}

constexpr FormulaArgument one[] = {{"a"}}, two[] = {{"a"}, {"b"}}, limits[] = {{"a"}, {"low"}, {"high"}},
                          choice[] = {{"condition"}, {"a"}, {"b"}}, sides[] = {{"y"}, {"x"}},
                          late[] = {{"a"}, {"time", "s"}};
constexpr const char *shapes[] = {"butterworth", "bessel"};
constexpr FormulaArgument filter[] = {{"a"}, {"corner", "Hz"}, {"order", "", 2}, {"shape", nullptr, nan, shapes}};

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
    {"atan2", sides, binary<[](double y, double x) { return std::atan2(y, x); }>, UnitRule::ratio,
     "atan2(y, x): angle of the point x, y in radians, above -pi and up to pi"},
    {"min", two, binary<lesser>, UnitRule::alike, "min(a, b): the smaller"},
    {"max", two, binary<greater>, UnitRule::alike, "max(a, b): the larger"},
    {"clip", limits, ternary<[](double a, double low, double high) { return lesser(greater(a, low), high); }>,
     UnitRule::alike, "clip(a, low, high): a where it lies between both, else the nearer of them"},
    {"choose", choice, ternary<[](double c, double a, double b) { return c != c   ? nan
                                                                         : c != 0 ? a
                                                                                  : b; }>,
     UnitRule::choice, "choose(condition, a, b): a where the condition is not 0, else b"},
    {"derivative", one, nullptr, UnitRule::rate,
     "derivative(a): slope from the sample before to the one behind, per second; at the ends and beside gaps to the "
     "one neighbour",
     derivativeOf},
    {"integral", one, nullptr, UnitRule::total,
     "integral(a): sum of trapezoids from the first sample on, times a second, 0 there; an offset of a makes a ramp of "
     "it; nothing is added across gaps",
     integralOf},
    {"smooth", late, nullptr, UnitRule::alike,
     "smooth(a, time): mean over so long a time about each sample, an odd number of them; without gaps, and over fewer "
     "at the ends",
     smoothOf},
    {"lowpass", filter, nullptr, UnitRule::alike,
     "lowpass(a, corner, order, shape): what lies below the corner, where the gain is 1 / sqrt 2; order 1 to 10, 2 "
     "where "
     "it is left out; butterworth or bessel. Forward, as a circuit would; the first value had been there for ever",
     lowpassOf},
    {"highpass", filter, nullptr, UnitRule::alike,
     "highpass(a, corner, order, shape): what lies above the corner, as lowpass", highpassOf},
};

} // namespace

std::span<const FormulaFunction> formulaFunctions()
{
    return functions;
}

} // namespace fulvex
