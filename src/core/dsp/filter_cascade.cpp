#include "filter_cascade.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

using Complex = std::complex<double>;

std::vector<Complex> butterworthPoles(int order)
{
    std::vector<Complex> poles;
    for (int k = 0; k < order; ++k)
        poles.push_back(std::polar(1.0, std::numbers::pi * (2 * k + order + 1) / (2 * order)));
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

/// Of the reverse Bessel polynomial, scaled so that the gain at 1 is 1 / sqrt 2.
std::vector<Complex> besselPoles(int order)
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
        (gain(middle) > std::numbers::sqrt2 / 2 ? low : high) = middle;
    }
    std::vector<Complex> poles = rootsOf(coefficients);
    for (Complex &pole : poles) pole /= low;
    return poles;
}

} // namespace

FilterCascade FilterCascade::made(Kind kind, Pass pass, int order, double corner)
{
    std::vector<Complex> poles = kind == Kind::bessel ? besselPoles(order) : butterworthPoles(order);
    // s = (1 - 1/z) / (1 + 1/z), which takes the corner to tan(pi corner).
    const double warped = std::tan(std::numbers::pi * corner);
    std::sort(poles.begin(), poles.end(), [](const Complex &a, const Complex &b) { return a.imag() < b.imag(); });
    FilterCascade filter;
    const double sign = pass == Pass::low ? 1 : -1; // where its zeros lie: half the rate, or 0
    // Pairs of conjugates, from outside inwards; of an odd order the middle one is real.
    for (int k = 0; k < (order + 1) / 2; ++k) {
        const Complex analogue = pass == Pass::low ? warped * poles[std::size_t(k)] : warped / poles[std::size_t(k)];
        const Complex pole = (1.0 + analogue) / (1.0 - analogue);
        Section section{};
        if (2 * k + 1 == order) {
            section.a1 = -pole.real();
            section.b0 = (1 + sign * section.a1) / 2;
            section.b1 = sign * section.b0;
        } else {
            section.a1 = -2 * pole.real();
            section.a2 = std::norm(pole);
            section.b0 = (1 + sign * section.a1 + section.a2) / 4;
            section.b1 = 2 * sign * section.b0;
            section.b2 = section.b0;
        }
        filter.m_sections.push_back(section);
    }
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
