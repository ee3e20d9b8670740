#include "formula.h"
#include "functions_over_time.h"

#include <cmath>

namespace fulvex {

namespace {

using In = std::span<const double>;
using Out = std::span<double>;

template <auto operation>
void binary(Out a, In b)
{
    for (std::size_t i = 0; i < a.size(); ++i) a[i] = operation(a[i], b[i]);
}

template <auto operation>
void unary(Out a, In)
{
    for (double &value : a) value = operation(value);
}

constexpr FormulaFunction functions[] = {
    {"+", 2, binary<[](double a, double b) { return a + b; }>, UnitRule::alike, "sum"},
    {"-", 2, binary<[](double a, double b) { return a - b; }>, UnitRule::alike, "difference"},
    {"*", 2, binary<[](double a, double b) { return a * b; }>, UnitRule::product, "product"},
    {"/", 2, binary<[](double a, double b) { return a / b; }>, UnitRule::quotient, "quotient"},
    {"^", 2, binary<[](double a, double b) { return std::pow(a, b); }>, UnitRule::power, "power"},
    {"negated", 1, unary<[](double a) { return -a; }>, UnitRule::alike, "negated(a): the sign turned round"},
    {"abs", 1, unary<[](double a) { return std::abs(a); }>, UnitRule::alike, "abs(a): magnitude"},
    {"sqrt", 1, unary<[](double a) { return std::sqrt(a); }>, UnitRule::root, "sqrt(a): square root; a gap below 0"},
    {"exp", 1, unary<[](double a) { return std::exp(a); }>, UnitRule::number, "exp(a): e to the power of a"},
    {"ln", 1, unary<[](double a) { return std::log(a); }>, UnitRule::number, "ln(a): natural logarithm; a gap up to 0"},
    {"log10", 1, unary<[](double a) { return std::log10(a); }>, UnitRule::number,
     "log10(a): decimal logarithm; a gap up to 0"},
    {"min", 2, binary<[](double a, double b) { return a < b    ? a
                                                      : b != b ? b
                                                      : a != a ? a
                                                               : b; }>, UnitRule::alike,
     "min(a, b): the smaller"},
    {"max", 2, binary<[](double a, double b) { return b < a    ? a
                                                      : b != b ? b
                                                      : a != a ? a
                                                               : b; }>, UnitRule::alike,
     "max(a, b): the larger"},
    {"derivative", 1, nullptr, UnitRule::rate,
     "derivative(a): slope from the sample before to the one behind, per second; at the ends and beside gaps to the "
     "one "
     "neighbour",
     derivativeOf},
    {"integral", 1, nullptr, UnitRule::total,
     "integral(a): sum of trapezoids from the first sample on, times a second, 0 there; an offset of a makes a ramp of "
     "it; nothing is added across gaps",
     integralOf},
};

} // namespace

std::span<const FormulaFunction> formulaFunctions()
{
    return functions;
}

} // namespace fulvex
