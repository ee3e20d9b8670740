#include "trend_spectrum.h"

#include "fourier.h"
#include "turn.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>

namespace fulvex {

namespace {

constexpr std::size_t most = std::size_t(1) << 20;

/// Values less their mean, on an even grid over the population's time.
std::vector<double> evenly(const Population &population, std::size_t mostPoints, double &interval)
{
    const std::size_t count = population.size(), points = std::min(count, mostPoints);
    const double first = population.position.front(), last = population.position.back();
    const double step = (last - first) / double(points - 1), mean = *statisticsOf(population).mean;
    interval = step * population.axis.interval;
    std::vector<double> even(points);
    std::size_t next = 1;
    for (std::size_t i = 0; i < points; ++i) {
        const double at = first + double(i) * step;
        while (next + 1 < count && population.position[next] < at) ++next;
        const double a = population.position[next - 1], b = population.position[next];
        const double share = b > a ? std::clamp((at - a) / (b - a), 0.0, 1.0) : 0;
        even[i] = population.value[next - 1] + share * (population.value[next] - population.value[next - 1]) - mean;
    }
    return even;
}

/// Values under a window.
class Weighed {
public:
    Weighed(const std::vector<double> &values, Window window) : m_values(values)
    {
        const std::vector<double> weights = windowWeights(window, m_values.size());
        for (std::size_t i = 0; i < m_values.size(); ++i) {
            m_weights += weights[i];
            m_values[i] *= weights[i];
        }
    }
    const std::vector<double> &values() const { return m_values; }
    double weights() const { return m_weights; }
    /// Amplitude of the component at a frequency, cycles a point.
    double amplitudeAt(double cycles) const
    {
        const std::complex<double> step = std::polar(1.0, -turn * cycles);
        std::complex<double> sum = 0, at = 1;
        for (std::size_t i = 0; i < m_values.size(); ++i) {
            if (i % 4096 == 0) at = std::polar(1.0, -turn * std::fmod(cycles * double(i), 1.0)); // without drift
            sum += m_values[i] * at;
            at *= step;
        }
        return 2 * std::abs(sum) / m_weights;
    }
    /// Where between two frequencies the one maximum is, by golden sections.
    double highestWithin(double low, double high) const
    {
        const double golden = (std::sqrt(5.0) - 1) / 2;
        double a = high - golden * (high - low), b = low + golden * (high - low);
        double atA = amplitudeAt(a), atB = amplitudeAt(b);
        for (int section = 0; section < 18; ++section) {
            if (atA > atB) {
                high = b, b = a, atB = atA;
                atA = amplitudeAt(a = high - golden * (high - low));
            } else {
                low = a, a = b, atA = atB;
                atB = amplitudeAt(b = low + golden * (high - low));
            }
        }
        return (low + high) / 2;
    }

private:
    std::vector<double> m_values;
    double m_weights = 0;
};

bool hasTrend(const Population &population)
{
    return population.size() >= 8 && population.position.back() > population.position.front();
}

/// Values in memory, on a grid that may begin far from 0.
class EvenTrend final : public SampleSource {
public:
    EvenTrend(std::vector<double> values, TimeAxis axis) : m_values(std::move(values)), m_axis(axis) {}
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return false; }
    std::size_t heldBytes() const override { return m_values.size() * sizeof(double); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        std::copy_n(m_values.begin() + std::ptrdiff_t(first), out.size(), out.begin());
    }

private:
    std::vector<double> m_values;
    TimeAxis m_axis;
};

} // namespace

SourcePtr evenTrend(const Population &population)
{
    constexpr std::size_t mostPoints = std::size_t(1) << 24;
    if (!hasTrend(population)) return nullptr;
    TimeAxis axis = population.axis;
    axis.shift += population.position.front() * axis.interval;
    std::vector<double> values = evenly(population, mostPoints, axis.interval);
    axis.count = std::int64_t(values.size());
    return std::make_shared<EvenTrend>(std::move(values), axis);
}

TrendSpectrum trendSpectrum(const Population &population, Window window, std::size_t mostPeaks, Progress &progress)
{
    TrendSpectrum spectrum;
    if (!hasTrend(population)) return spectrum;
    double interval = 0;
    const std::vector<double> even = evenly(population, most, interval);
    const Weighed own(even, window);
    const std::size_t count = even.size();
    progress.advance(0);
    FourierBuffer buffer(own.values(), count);
    buffer.forward();
    progress.advance(0);
    spectrum.step = 1 / (interval * double(count));
    spectrum.amplitudes.resize(count / 2 + 1);
    for (std::size_t k = 0; k < spectrum.amplitudes.size(); ++k)
        spectrum.amplitudes[k] = 2 * std::abs(buffer.lines()[k]) / own.weights();

    std::vector<double> sorted(spectrum.amplitudes.begin() + 1, spectrum.amplitudes.end());
    std::nth_element(sorted.begin(), sorted.begin() + std::ptrdiff_t(sorted.size() / 2), sorted.end());
    const double floor = 6 * sorted[sorted.size() / 2];
    const auto &lines = spectrum.amplitudes;
    constexpr std::size_t apart = 3; // lines that a window smears one over
    std::vector<std::size_t> tops;
    for (std::size_t k = 1; k + 1 < lines.size(); ++k) {
        bool top = lines[k] > floor;
        for (std::size_t d = 1; top && d <= apart; ++d)
            top = (k < d || lines[k] > lines[k - d]) && (k + d >= lines.size() || lines[k] >= lines[k + d]);
        if (top) tops.push_back(k);
    }
    std::sort(tops.begin(), tops.end(), [&](std::size_t a, std::size_t b) { return lines[a] > lines[b]; });
    if (tops.size() > mostPeaks) tops.resize(mostPeaks);
    // A flat top's own highest place is anywhere on it: by Hann's the frequency is told, between the lines.
    const Weighed byHann(even, Window::hann);
    for (const std::size_t k : tops) {
        progress.advance(0);
        const double at = byHann.highestWithin((double(k) - 2) / double(count), (double(k) + 2) / double(count));
        spectrum.peaks.push_back({at / interval, own.amplitudeAt(at)});
    }
    std::sort(spectrum.peaks.begin(), spectrum.peaks.end(),
              [](const auto &x, const auto &y) { return x.amplitude > y.amplitude; });
    return spectrum;
}

} // namespace fulvex
