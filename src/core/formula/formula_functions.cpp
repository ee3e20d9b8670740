#include "formula.h"

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
    {"+", 2, binary<[](double a, double b) { return a + b; }>, "sum"},
    {"-", 2, binary<[](double a, double b) { return a - b; }>, "difference"},
    {"*", 2, binary<[](double a, double b) { return a * b; }>, "product"},
    {"/", 2, binary<[](double a, double b) { return a / b; }>, "quotient"},
    {"^", 2, binary<[](double a, double b) { return std::pow(a, b); }>, "power"},
    {"negated", 1, unary<[](double a) { return -a; }>, "negated(a): the sign turned round"},
    {"abs", 1, unary<[](double a) { return std::abs(a); }>, "abs(a): magnitude"},
    {"sqrt", 1, unary<[](double a) { return std::sqrt(a); }>, "sqrt(a): square root; a gap below 0"},
    {"exp", 1, unary<[](double a) { return std::exp(a); }>, "exp(a): e to the power of a"},
    {"ln", 1, unary<[](double a) { return std::log(a); }>, "ln(a): natural logarithm; a gap up to 0"},
    {"log10", 1, unary<[](double a) { return std::log10(a); }>, "log10(a): decimal logarithm; a gap up to 0"},
    {"min", 2, binary<[](double a, double b) { return a < b    ? a
                                                      : b != b ? b
                                                      : a != a ? a
                                                               : b; }>,
     "min(a, b): the smaller"},
    {"max", 2, binary<[](double a, double b) { return b < a    ? a
                                                      : b != b ? b
                                                      : a != a ? a
                                                               : b; }>,
     "max(a, b): the larger"},
};

} // namespace

std::span<const FormulaFunction> formulaFunctions()
{
    return functions;
}

} // namespace fulvex
