#include "windowed_taps.h"

#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

constexpr double attenuation = 60, beta = 0.1102 * (attenuation - 8.7); // dB

/// One half of a Kaiser window and its middle, which is first.
std::vector<double> kaiserWindow(std::int64_t half)
{
    std::vector<double> window;
    for (std::int64_t k = 0; k <= half; ++k) {
        const double x = half == 0 ? 0 : double(k) / double(half);
        window.push_back(std::cyl_bessel_i(0.0, beta * std::sqrt(1 - x * x)));
    }
    return window;
}

/// A sinc under a window, from the middle on; its gain at 0 exactly 1.
std::vector<double> lowPass(const std::vector<double> &window, double cutoff)
{
    std::vector<double> taps(window.size());
    double sum = 0;
    for (std::size_t k = window.size(); k-- > 0;) { // the smallest first
        const double angle = 2 * std::numbers::pi * cutoff * double(k);
        taps[k] = window[k] * (k == 0 ? 1 : std::sin(angle) / angle);
        sum += (k == 0 ? 1 : 2) * taps[k];
    }
    for (double &tap : taps) tap /= sum;
    return taps;
}

double gainAt(const std::vector<double> &taps, double frequency)
{
    double gain = 0;
    for (std::size_t k = taps.size(); k-- > 1;)
        gain += 2 * taps[k] * std::cos(2 * std::numbers::pi * frequency * double(k));
    return gain + taps[0];
}

/// With a given gain at a corner: its cutoff lies within half a transition of that. By secants between two that enclose
/// it, the one that stays weighing half as much each time (Illinois).
std::vector<double> lowPassThrough(const std::vector<double> &window, double corner, double gain, double transition)
{
    double low = std::max(1e-3 * corner, corner - transition / 2), high = corner + transition / 2;
    std::vector<double> taps;
    const auto over = [&](double cutoff) {
        taps = lowPass(window, cutoff);
        return gainAt(taps, corner) - gain;
    };
    double below = over(low), above = over(high);
    for (int round = 0; round < 30; ++round) {
        const double middle = low - below * (high - low) / (above - below);
        const double there = over(middle);
        if (std::abs(there) < 1e-10) break;
        if (there < 0) {
            low = middle, below = there, above /= 2;
        } else {
            high = middle, above = there, below /= 2;
        }
    }
    return taps;
}

} // namespace

double tapsFor(double transition)
{
    return 2 * std::ceil((attenuation - 7.95) / (14.36 * transition) / 2) + 1;
}

std::vector<double> windowedTaps(FilterPass pass, double low, double high, double transition)
{
    const std::vector<double> window = kaiserWindow(std::int64_t(tapsFor(transition)) / 2);
    const double passed = std::numbers::sqrt2 / 2, kept = 1 - passed; // what an edge lets through, and leaves
    const bool rises = pass == FilterPass::high || pass == FilterPass::band;
    std::vector<double> taps = lowPassThrough(window, low, rises ? kept : passed, transition);
    if (pass == FilterPass::band || pass == FilterPass::stop) {
        const std::vector<double> upper =
            lowPassThrough(window, high, pass == FilterPass::band ? passed : kept, transition);
        for (std::size_t k = 0; k < taps.size(); ++k) taps[k] = upper[k] - taps[k];
    }
    if (pass == FilterPass::high || pass == FilterPass::stop) { // all but that
        for (double &tap : taps) tap = -tap;
        taps[0] += 1;
    }
    std::vector<double> both(taps.rbegin(), taps.rend());
    both.insert(both.end(), taps.begin() + 1, taps.end());
    return both;
}

} // namespace fulvex
