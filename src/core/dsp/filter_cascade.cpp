#include "filter_cascade.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

using Complex = std::complex<double>;

/// Of a low pass whose gain at 1 is `edge`.
std::vector<Complex> butterworthPoles(int order, double edge)
{
    const double corner = std::pow(1 / (edge * edge) - 1, -1.0 / (2 * order));
    std::vector<Complex> poles;
    for (int k = 0; k < order; ++k)
        poles.push_back(std::polar(corner, std::numbers::pi * (2 * k + order + 1) / (2 * order)));
    return poles;
}

/// Roots of a polynomial with leading coefficient 1, coefficients by rising power, all found at once (Durand, Kerner).
std::vector<Complex> rootsOf(const std::vector<double> &coefficients)
{
    const std::size_t degree = coefficients.size() - 1;
    const double radius = std::pow(std::abs(coefficients.front()), 1 / double(degree));
    std::vector<Complex> roots;
    for (std::size_t k = 0; k < degree; ++k)
        roots.push_back(std::polar(radius, 0.4 + 2 * std::numbers::pi * double(k) / double(degree)));
    for (int round = 0; round < 500; ++round) {
        double moved = 0;
        for (std::size_t k = 0; k < degree; ++k) {
            Complex value = coefficients.back(), apart = 1;
            for (std::size_t i = degree; i-- > 0;) value = value * roots[k] + coefficients[i];
            for (std::size_t other = 0; other < degree; ++other)
                if (other != k) apart *= roots[k] - roots[other];
            const Complex step = value / apart;
            roots[k] -= step;
            moved = std::max(moved, std::abs(step) / radius);
        }
        if (moved < 1e-15) break;
    }
    return roots;
}

/// Of the reverse Bessel polynomial, scaled so that the gain at 1 is `edge`.
std::vector<Complex> besselPoles(int order, double edge)
{
    std::vector<double> coefficients; // (2n - k)! / (2^(n-k) k! (n-k)!)
    for (int k = 0; k <= order; ++k)
        coefficients.push_back(std::exp(std::lgamma(2 * order - k + 1) - std::lgamma(k + 1) -
                                        std::lgamma(order - k + 1) - (order - k) * std::numbers::ln2));
    const auto gain = [&](double omega) {
        Complex value = 0;
        for (int k = order; k >= 0; --k) value = value * Complex(0, omega) + coefficients[std::size_t(k)];
        return coefficients.front() / std::abs(value);
    };
    double low = 0, high = 100;
    while (high - low > 1e-15 * high) {
        const double middle = (low + high) / 2;
        if (middle == low || middle == high) break;
        (gain(middle) > edge ? low : high) = middle;
    }
    std::vector<Complex> poles = rootsOf(coefficients);
    for (Complex &pole : poles) pole /= low;
    return poles;
}

/// s = (1 - 1/z) / (1 + 1/z), which takes a corner to tan(pi corner).
double warped(double corner)
{
    return std::tan(std::numbers::pi * corner);
}
Complex onSamples(Complex s)
{
    return (1.0 + s) / (1.0 - s);
}

/// Where a low pass' pole goes when its corner becomes the asked filter's: one of them, or a band's two.
std::vector<Complex> movedTo(const FilterCascade::Asked &asked, Complex pole)
{
    const double low = warped(asked.low), high = warped(asked.high);
    switch (asked.pass) {
    case FilterPass::low:
        return {low * pole};
    case FilterPass::high:
        return {low / pole};
    case FilterPass::band:
    case FilterPass::stop:
        break;
    }
    // s² - 2 half s + middle² = 0; the far root first, so that the near one loses no digits.
    const Complex half = (high - low) / 2 * (asked.pass == FilterPass::band ? pole : 1.0 / pole);
    const Complex apart = std::sqrt(half * half - low * high);
    const Complex far = std::abs(half + apart) > std::abs(half - apart) ? half + apart : half - apart;
    return {far, low * high / far};
}

/// Of a pole and its conjugate, or of two real ones, and where the response is to be 1.
FilterCascade::Section sectionOf(Complex pole, Complex other, const std::array<double, 3> &zeros, double whole)
{
    FilterCascade::Section section{zeros[0], zeros[1], zeros[2], -(pole + other).real(), (pole * other).real()};
    const Complex delayed = std::polar(1.0, -2 * std::numbers::pi * whole);
    const double gain = std::abs((section.b0 + delayed * (section.b1 + delayed * section.b2)) /
                                 ((1.0 - delayed * pole) * (1.0 - delayed * other)));
    for (double *b : {&section.b0, &section.b1, &section.b2}) *b /= gain;
    return section;
}

} // namespace

FilterCascade FilterCascade::made(const Asked &asked)
{
    const double edge = std::pow(0.5, asked.twice ? 0.25 : 0.5);
    std::vector<Complex> poles; // on the samples
    for (const Complex &pole :
         asked.kind == Kind::bessel ? besselPoles(asked.order, edge) : butterworthPoles(asked.order, edge))
        for (const Complex &moved : movedTo(asked, pole)) poles.push_back(onSamples(moved));
    // Pairs of conjugates first, the most resonant last; then what is real, two by two.
    const auto isReal = [](const Complex &pole) { return std::abs(pole.imag()) < 1e-9 * std::abs(1.0 - pole); };
    std::sort(poles.begin(), poles.end(), [&](const Complex &a, const Complex &b) {
        return std::pair(isReal(a), std::abs(a)) < std::pair(isReal(b), std::abs(b));
    });
    const double middle = std::atan(std::sqrt(warped(asked.low) * warped(asked.high))) / std::numbers::pi;
    const double whole = asked.pass == FilterPass::high ? 0.5 : asked.pass == FilterPass::band ? middle : 0;
    const auto zerosFor = [&](int count) -> std::array<double, 3> {
        const double sign = asked.pass == FilterPass::high ? -1 : 1;
        if (count == 1) return {1, sign, 0};
        if (asked.pass == FilterPass::band) return {1, 0, -1};
        if (asked.pass == FilterPass::stop) return {1, -2 * std::cos(2 * std::numbers::pi * middle), 1};
        return {1, 2 * sign, 1};
    };
    FilterCascade filter;
    for (std::size_t k = 0; k < poles.size(); ++k) {
        if (!isReal(poles[k])) {
            if (poles[k].imag() > 0)
                filter.m_sections.push_back(sectionOf(poles[k], std::conj(poles[k]), zerosFor(2), whole));
        } else if (k + 1 < poles.size()) {
            filter.m_sections.push_back(sectionOf(poles[k].real(), poles[k + 1].real(), zerosFor(2), whole));
            ++k;
        } else
            filter.m_sections.push_back(sectionOf(poles[k].real(), 0, zerosFor(1), whole));
    }
    return filter;
}

FilterCascade FilterCascade::leadLag(double zero, double pole, double secondPole)
{
    const auto root = [](double corner) { return onSamples(-warped(corner)).real(); };
    FilterCascade filter;
    const double z = root(zero); // and one at half the rate, as there is one pole more
    filter.m_sections.push_back(sectionOf(root(pole), root(secondPole), {1, 1 - z, -z}, 0));
    return filter;
}

FilterCascade::State FilterCascade::settledAt(double value) const
{
    State state{};
    for (std::size_t k = 0; k < m_sections.size(); ++k) {
        const Section &of = m_sections[k];
        const double out = (of.b0 + of.b1 + of.b2) / (1 + of.a1 + of.a2) * value;
        state[2 * k + 1] = of.b2 * value - of.a2 * out;
        state[2 * k] = of.b1 * value - of.a1 * out + state[2 * k + 1];
        value = out;
    }
    return state;
}

void FilterCascade::run(std::span<double> values, State &state) const
{
    for (std::size_t k = 0; k < m_sections.size(); ++k) {
        const Section of = m_sections[k];
        double first = state[2 * k], second = state[2 * k + 1];
        for (double &value : values) {
            const double out = of.b0 * value + first;
            first = (of.b1 * value - of.a1 * out) + second;
            second = of.b2 * value - of.a2 * out;
            value = out;
        }
        state[2 * k] = first;
        state[2 * k + 1] = second;
    }
}

std::complex<double> FilterCascade::response(double frequency) const
{
    const Complex delayed = std::polar(1.0, -2 * std::numbers::pi * frequency);
    Complex all = 1;
    for (const Section &of : m_sections)
        all *= (of.b0 + delayed * (of.b1 + delayed * of.b2)) / (1.0 + delayed * (of.a1 + delayed * of.a2));
    return all;
}

} // namespace fulvex
