#include "window.h"

#include "core_loop.h"
#include "same_everywhere.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <span>

namespace fulvex {

Window windowNamed(const std::string &word)
{
    return word == "rectangular"       ? Window::rectangular
           : word == "flat_top"        ? Window::flatTop
           : word == "blackman_harris" ? Window::blackmanHarris
                                       : Window::hann;
}

namespace {

using Terms = std::array<double, 7>;

const Terms &termsOf(Window window)
{
    static constexpr Terms terms[] = {
        {0.5, -0.5, 0, 0, 0},
        {1, 0, 0, 0, 0},
        {0.21557895, -0.41663158, 0.277263158, -0.083578947, 0.006947368},
        {0.35875, -0.48829, 0.14128, -0.01168, 0},
        {0.27105140069342, -0.43329793923448, 0.21812299954311, -0.06592544638803, 0.01081174209837, -0.00077658482522,
         0.00001388721735},
    };
    return terms[int(window)];
}

double sinc(double x)
{
    const double angle = std::numbers::pi * x;
    return std::abs(angle) < 1e-9 ? 1 : std::sin(angle) / angle;
}

} // namespace

/// Sums of terms[k] cos(k a) by the cosines of a, in place. Source: C. W. Clenshaw, "A note on the summation of
/// Chebyshev series", Math. Tables and Other Aids to Computation 9 (1955).
static FULVEX_WIDEST_VECTORS void sumTerms(const Terms &terms, double *cosines, std::size_t size)
{
    for (std::size_t i = 0; i < size; ++i) {
        const double cosine = cosines[i];
        double sum = 0, before = 0;
        for (std::size_t k = terms.size() - 1; k > 0; --k) {
            const double next = terms[k] + 2 * cosine * sum - before;
            before = sum;
            sum = next;
        }
        cosines[i] = terms[0] + cosine * sum - before;
    }
}

double windowAt(Window window, double share)
{
    double weight = sinCosPi(2 * share).second;
    sumTerms(termsOf(window), &weight, 1);
    return weight;
}

std::vector<double> windowWeights(Window window, std::size_t length)
{
    std::vector<double> weights(length);
    constexpr std::size_t together = 4096;
    onAllCores(std::int64_t((length + together - 1) / together), [&](std::int64_t index) {
        const std::size_t first = std::size_t(index) * together, count = std::min(together, length - first);
        std::array<double, together> halfTurns, sines;
        for (std::size_t i = 0; i < count; ++i)
            halfTurns[i] = 2 * ((double(first + i) + 0.5) / double(length)); // of the fundamental
        sinCosPi(std::span(halfTurns).first(count), sines.data(), weights.data() + first);
        sumTerms(termsOf(window), weights.data() + first, count);
    });
    return weights;
}

double windowResponse(Window window, double lines)
{
    const Terms &terms = termsOf(window);
    double sum = terms[0] * sinc(lines);
    for (std::size_t k = 1; k < terms.size(); ++k) {
        const double about = k % 2 ? -terms[k] : terms[k]; // seen from its middle
        sum += about / 2 * (sinc(lines - double(k)) + sinc(lines + double(k)));
    }
    return sum / terms[0];
}

double windowNoiseBandwidth(Window window)
{
    const Terms &terms = termsOf(window);
    double squares = terms[0] * terms[0];
    for (std::size_t k = 1; k < terms.size(); ++k) squares += terms[k] * terms[k] / 2;
    return squares / (terms[0] * terms[0]);
}

double windowIndependence(Window window)
{
    constexpr int places = 256; // exact: all terms are whole cycles
    double both = 0, squares = 0;
    for (int i = 0; i < places; ++i) {
        const double here = windowAt(window, (i + 0.5) / places);
        squares += here * here;
        if (i < places / 2) both += here * windowAt(window, (i + 0.5) / places + 0.5);
    }
    return 1 / (1 + 2 * (both / squares) * (both / squares));
}

int windowLobe(Window window)
{
    const Terms &terms = termsOf(window);
    int lobe = 0;
    for (const double term : terms) lobe += term != 0;
    return lobe;
}

} // namespace fulvex
