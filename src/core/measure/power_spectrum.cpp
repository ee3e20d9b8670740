#include "power_spectrum.h"

#include "fourier.h"
#include "parallel.h"

#include <bit>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::size_t mostParts = 16;

/// Of some segments.
void add(PowerSpectrum::Part &part, const SampleSource &source, std::int64_t first, const std::vector<double> &weights)
{
    FourierBuffer buffer({}, weights.size());
    double *samples = buffer.reals();
    source.read(first, {samples, weights.size()});
    double check = 0;
    for (std::size_t i = 0; i < weights.size(); ++i) {
        check += samples[i] - samples[i];
        samples[i] *= weights[i];
    }
    if (check != 0) return; // a gap, which is no number
    buffer.forward();
    const auto *lines = buffer.lines();
    part.sums.resize(weights.size() / 2 + 1);
    for (std::size_t k = 0; k < part.sums.size(); ++k) part.sums[k] += std::norm(lines[k]);
    ++part.segments;
}

} // namespace

std::size_t usualSegment(SampleRange range)
{
    constexpr std::size_t most = 1 << 18;
    return std::min(most, std::bit_floor(std::size_t(std::max<std::int64_t>(4, range.size())) / 4));
}

PowerSpectrum powerSpectrum(const SampleSource &source, SampleRange range, Window window, std::size_t length,
                            Progress &progress)
{
    PowerSpectrum spectrum;

    spectrum.step = 1 / (source.axis().interval * double(length));
    const auto hop = std::int64_t(std::max<std::size_t>(1, length / 2));
    const std::int64_t segments =
        range.size() < std::int64_t(length) ? 0 : (range.size() - std::int64_t(length)) / hop + 1;
    if (segments == 0) return spectrum;
    std::vector<double> weights(length);
    double sum = 0, squares = 0;
    for (std::size_t i = 0; i < length; ++i) {
        weights[i] = windowAt(window, (double(i) + 0.5) / double(length));
        sum += weights[i];
        squares += weights[i] * weights[i];
    }
    spectrum.noiseBandwidth = double(length) * squares / (sum * sum);
    // Parts by the range alone, each one after the other: the same bits on any number of cores.
    const std::int64_t each = (segments + std::int64_t(mostParts) - 1) / std::int64_t(mostParts);
    spectrum.parts =
        inChunks<PowerSpectrum::Part>({0, segments}, each, progress, [&](SampleRange mine, PowerSpectrum::Part &part) {
            for (std::int64_t k = mine.first; k < mine.last; ++k) {
                progress.advance(0);
                add(part, source, range.first + k * hop, weights);
            }
            source.release({range.first + mine.first * hop, range.first + mine.last * hop});
        });
    // Half of it stands at negative frequencies, but of the lines at 0 and half the rate.
    const double scale = 2 * source.axis().interval / squares;
    for (PowerSpectrum::Part &part : spectrum.parts) {
        for (std::size_t k = 0; k < part.sums.size(); ++k)
            part.sums[k] *= k == 0 || k + 1 == part.sums.size() ? scale / 2 : scale;
    }
    spectrum.density = spectrum.densityWithout(spectrum.parts.size());
    for (const PowerSpectrum::Part &part : spectrum.parts) spectrum.segments += part.segments;
    return spectrum;
}

std::vector<double> PowerSpectrum::densityWithout(std::size_t without) const
{
    std::vector<double> sums;
    std::int64_t count = 0;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (i == without || parts[i].segments == 0) continue;
        sums.resize(parts[i].sums.size());
        for (std::size_t k = 0; k < sums.size(); ++k) sums[k] += parts[i].sums[k];
        count += parts[i].segments;
    }
    for (double &one : sums) one /= double(count);
    return sums;
}

double PowerSpectrum::power(std::size_t first, std::size_t last) const
{
    double sum = 0;
    for (std::size_t k = first; k <= last && k < density.size(); ++k) sum += density[k];
    return sum * step;
}

} // namespace fulvex
