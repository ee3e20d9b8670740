#include "sine_quality.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::ptrdiff_t lobe = 8; ///< lines to either side that a line reaches under that window
constexpr int highestHarmonic = 10;

double decibels(double ratio)
{
    return 10 * std::log10(ratio);
}

} // namespace

double SineQuality::signalToNoise() const
{
    return decibels(signal / noise);
}

double SineQuality::signalToNoiseAndDistortion() const
{
    return decibels(signal / (noise + harmonics));
}

double SineQuality::totalHarmonicDistortion() const
{
    return 100 * std::sqrt(harmonics / signal);
}

std::optional<SineQuality> sineQuality(const PowerSpectrum &spectrum, const std::vector<double> &density)
{
    const auto lines = std::ptrdiff_t(density.size());
    constexpr std::ptrdiff_t least = 18;
    if (lines <= least + lobe) return {};
    const std::ptrdiff_t highest = std::max_element(density.begin() + lobe + 1, density.end()) - density.begin();
    if (highest < least || highest + lobe >= lines) return {};
    std::vector<bool> taken(density.size());
    const auto take = [&](std::ptrdiff_t middle) { // the sum of a lobe, and how many lines that were nobody's before
        double sum = 0;
        std::ptrdiff_t fresh = 0;
        for (std::ptrdiff_t k = std::max<std::ptrdiff_t>(0, middle - lobe); k <= std::min(lines - 1, middle + lobe);
             ++k) {
            if (taken[std::size_t(k)]) continue;
            taken[std::size_t(k)] = true;
            sum += density[std::size_t(k)];
            ++fresh;
        }
        return std::pair(sum, fresh);
    };
    take(0);
    double weight = 0, place = 0;
    for (std::ptrdiff_t k = highest - 6; k <= highest + 6; ++k) {
        weight += density[std::size_t(k)];
        place += density[std::size_t(k)] * double(k);
    }
    place /= weight; // its lines are as strong to one side as to the other
    SineQuality quality;
    quality.frequency = place * spectrum.step;
    const auto [signal, signalLines] = take(std::ptrdiff_t(std::lround(place)));
    double harmonics = 0;
    std::ptrdiff_t harmonicLines = 0;
    for (int k = 2; k <= highestHarmonic; ++k) {
        const double whole = 2 * double(lines - 1), turned = std::fmod(place * k, whole);
        const auto at = std::ptrdiff_t(std::lround(turned > double(lines - 1) ? whole - turned : turned));
        bool alone = true;
        for (std::ptrdiff_t line = std::max<std::ptrdiff_t>(0, at - lobe); line <= std::min(lines - 1, at + lobe);
             ++line)
            alone &= !taken[std::size_t(line)];
        if (!alone) continue;
        const auto [sum, fresh] = take(at);
        harmonics += sum;
        harmonicLines += fresh;
        ++quality.counted;
    }
    double rest = 0;
    std::ptrdiff_t restLines = 0;
    for (std::ptrdiff_t k = 0; k < lines; ++k)
        if (!taken[std::size_t(k)]) rest += density[std::size_t(k)], ++restLines;
    if (restLines == 0) return {};
    const double floor = rest / double(restLines); // beneath the lobes as well
    quality.noise = floor * double(lines) * spectrum.step;
    quality.signal = (signal - floor * double(signalLines)) * spectrum.step;
    quality.harmonics = std::max(0.0, harmonics - floor * double(harmonicLines)) * spectrum.step;
    // More than chance makes of noise, and than rounding makes of all there is.
    const bool stands = density[std::size_t(highest)] > 40 * floor;
    if (!stands || !(quality.signal > 1e-16 * spectrum.power(0, density.size()))) return {};
    return quality;
}

} // namespace fulvex
