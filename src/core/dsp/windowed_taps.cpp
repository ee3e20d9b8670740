#include "windowed_taps.h"

#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

constexpr double attenuation = 60, beta = 0.1102 * (attenuation - 8.7); // dB

double sinc(double x)
{
    return x == 0 ? 1 : std::sin(std::numbers::pi * x) / (std::numbers::pi * x);
}

/// Under the window with halves of `half` taps, its gain at 0 exactly 1.
std::vector<double> lowPass(std::int64_t half, double cutoff)
{
    std::vector<double> taps;
    double sum = 0;
    for (std::int64_t k = -half; k <= half; ++k) {
        const double x = half == 0 ? 0 : double(k) / double(half);
        taps.push_back(sinc(2 * cutoff * double(k)) * std::cyl_bessel_i(0.0, beta * std::sqrt(1 - x * x)));
        sum += taps.back();
    }
    for (double &tap : taps) tap /= sum;
    return taps;
}

double gainAt(const std::vector<double> &taps, double frequency)
{
    const std::size_t half = taps.size() / 2;
    double gain = taps[half];
    for (std::size_t k = 1; k <= half; ++k)
        gain += 2 * taps[half + k] * std::cos(2 * std::numbers::pi * frequency * double(k));
    return gain;
}

/// With a given gain at a corner, to either side of which by half a transition its cutoff is looked for.
std::vector<double> lowPassThrough(std::int64_t half, double corner, double gain, double transition)
{
    double low = std::max(0.0, corner - transition / 2), high = corner + transition / 2;
    for (int round = 0; round < 30; ++round) { // to 1e-9 of a transition
        const double middle = (low + high) / 2;
        (gainAt(lowPass(half, middle), corner) < gain ? low : high) = middle;
    }
    return lowPass(half, (low + high) / 2);
}

} // namespace

double tapsFor(double transition)
{
    return 2 * std::ceil((attenuation - 7.95) / (14.36 * transition) / 2) + 1;
}

std::vector<double> windowedTaps(FilterPass pass, double low, double high, double transition)
{
    const auto half = std::int64_t(tapsFor(transition)) / 2;
    const double passed = std::numbers::sqrt2 / 2,
                 kept = 1 - passed; // what an edge lets through, and leaves to the rest
    const bool rises = pass == FilterPass::high || pass == FilterPass::band;
    std::vector<double> taps = lowPassThrough(half, low, rises ? kept : passed, transition);
    if (pass == FilterPass::band || pass == FilterPass::stop) {
        const std::vector<double> upper =
            lowPassThrough(half, high, pass == FilterPass::band ? passed : kept, transition);
        for (std::size_t k = 0; k < taps.size(); ++k) taps[k] = upper[k] - taps[k];
    }
    if (pass == FilterPass::high || pass == FilterPass::stop) { // all but that
        for (double &tap : taps) tap = -tap;
        taps[std::size_t(half)] += 1;
    }
    return taps;
}

} // namespace fulvex
