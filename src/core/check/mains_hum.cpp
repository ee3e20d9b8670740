#include "channel_check.h"
#include "parallel.h"

#include <cmath>
#include <complex>
#include <numbers>

namespace fulvex {

namespace {

constexpr std::int64_t mostBlocks = 1 << 20; ///< of about 1 ms: what a quarter of an hour does not tell, more will not

/// Means over blocks of `length` samples, less `origin`; a block of gaps alone is taken as 0.
std::vector<double> blockMeans(const SampleSource &source, std::int64_t length, double origin, Progress &progress)
{
    const std::int64_t blocks = std::min(source.axis().count / length, mostBlocks);
    std::vector<double> means(static_cast<std::size_t>(blocks));
    struct Nothing {};
    const std::int64_t perChunk = std::max<std::int64_t>(1, defaultChunk / length);
    inChunks<Nothing>({0, blocks}, perChunk, progress, [&](SampleRange mine, Nothing &) {
        std::int64_t block = mine.first, in = 0, count = 0;
        double sum = 0;
        forBlocks(source, {mine.first * length, mine.last * length}, progress,
                  [&](std::int64_t, std::span<const double> values) {
                      for (const double v : values) {
                          if (v == v) sum += v - origin, ++count;
                          if (++in < length) continue;
                          means[std::size_t(block++)] = count ? sum / double(count) : 0;
                          in = count = 0;
                          sum = 0;
                      }
                  });
    });
    return means;
}

double amplitudeAt(const std::vector<double> &values, double cyclesPerValue)
{
    std::complex<double> sum = 0;
    const double n = double(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) { // a Hann window keeps neighbours out
        const double window = 1 - std::cos(2 * std::numbers::pi * (double(i) + 0.5) / n);
        sum += values[i] * window * std::polar(1.0, -2 * std::numbers::pi * cyclesPerValue * double(i));
    }
    return 2 * std::abs(sum) / n;
}

} // namespace

std::optional<Hum> mainsHum(const SampleSource &source, double mean, Progress &progress)
{
    const TimeAxis &axis = source.axis();
    double duration = axis.interval * double(axis.count);
    if (duration < 4 / 50.0 || axis.interval > 1 / 2000.0) return {};
    const auto length = std::max<std::int64_t>(1, std::int64_t(1 / (1000.0 * axis.interval))); // about 1 ms
    const std::vector<double> means = blockMeans(source, length, mean, progress);
    const double step = axis.interval * double(length);
    duration = step * double(means.size());
    std::optional<Hum> largest;
    for (const double frequency : {50.0, 60.0, 100.0, 120.0}) {
        progress.advance(0);
        const double at = amplitudeAt(means, frequency * step), off = 6 / duration; // beyond the window's main lobe
        const double around =
            std::max(amplitudeAt(means, (frequency - off) * step), amplitudeAt(means, (frequency + off) * step));
        if (at < 4 * around) continue;
        if (!largest || at > largest->amplitude) largest = Hum{frequency, at};
    }
    return largest;
}

} // namespace fulvex
