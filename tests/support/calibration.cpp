#include "calibration.h"

#include "engine.h"
#include "npy_header.h"
#include "signals.h"
#include "temporary_folder.h"

#include <cmath>
#include <functional>
#include <map>
#include <numbers>

namespace fulvex::test {

namespace {

/// Gaussian noise of rms 1, each value `hangs` of the one before.
class Noise {
public:
    Noise(std::uint64_t seed, double hangs) : m_random(seed), m_hangs(hangs), m_state(m_random()) {}
    double operator()()
    {
        const double is = m_state;
        m_state = m_hangs * m_state + std::sqrt(1 - m_hangs * m_hangs) * m_random();
        return is;
    }

private:
    Gaussian m_random;
    double m_hangs, m_state;
};

/// A way to make a signal, and what is true of it.
struct Signal {
    std::string words;
    std::function<std::vector<double>(std::uint64_t seed)> make;
    std::map<std::string, double> truth; ///< by quantity
    bool clocked = false;
};

constexpr double interval = 1e-9;

constexpr double period = 201.37, width = 93.3; ///< samples, of pulses

/// Trapezoids of 0.2 to 1 V, rising and falling in `ramp` samples, with noise on the value and on the edges. The levels
/// lie at least three samples from a corner, beside which curves and straight lines differ.
std::vector<double> pulses(std::uint64_t seed, double hangs, double ramp, double noise, double jitter)
{
    constexpr int count = 400;
    Noise volts(seed, hangs), instants(seed + 1000003, hangs);
    std::vector<double> values(std::size_t(period * count));
    std::vector<double> edges;
    for (int i = 0; i < count; ++i) {
        edges.push_back(20.1 + period * i + jitter * instants());
        edges.push_back(20.1 + period * i + width + jitter * instants());
    }
    std::size_t next = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
        while (next < edges.size() && edges[next] + ramp / 2 < double(i)) ++next;
        const double along = next < edges.size() ? std::clamp((double(i) - edges[next]) / ramp + 0.5, 0.0, 1.0) : 0;
        const double level = next % 2 ? 1 - along : along;
        values[i] = 0.2 + 0.8 * level + noise * volts();
    }
    return values;
}

std::vector<double> slowNoise(std::uint64_t seed, double hangs)
{
    Noise noise(seed, hangs);
    std::vector<double> values(60000);
    for (double &v : values) v = 0.5 + 0.1 * noise();
    return values;
}

/// Data with noise that a filter of half the symbol rate has passed: several samples of one unit interval agree.
std::vector<double> data(std::uint64_t seed, double hangs, double jitter)
{
    DataSpec spec;
    spec.samplesPerUi = 12.3;
    spec.unitIntervals = 3000;
    spec.seed = seed;
    spec.edgeSigma = 0.05; // settled in the middle
    spec.randomJitter = jitter;
    std::vector<double> values = makeData(spec).volts;
    Noise noise(seed + 7, hangs);
    for (double &v : values) v += 0.02 * noise();
    return values;
}

std::vector<Signal> signals()
{
    std::vector<Signal> all;
    for (const double hangs : {0.0, 0.97}) {
        const std::string words = hangs > 0 ? ", noise hangs together" : ", independent noise";
        all.push_back({"noise about 0.5 V" + words,
                       [=](auto seed) { return slowNoise(seed, hangs); },
                       {{"mean", 0.5}, {"ac_rms", 0.1}, {"rms", std::hypot(0.5, 0.1)}}});
    }
    for (const double hangs : {0.0, 0.9}) {
        const std::string words = hangs > 0 ? ", noise and jitter hang together" : ", independent noise and jitter";
        constexpr double ramp = 32;
        constexpr double slope = 0.8 / ramp, between = 0.8 * ramp; // V a sample; 10 to 90 %
        // The mean of 1 / T lies above 1 / mean T by the periods' variance: of two edges' jitter, and of the noise that
        // an instant between two samples takes (two thirds of it on a straight line).
        const double spread = 2 * 0.3 * 0.3 * (1 - hangs * hangs) + 2 * std::pow(0.004 / slope, 2) * 0.7;
        all.push_back({"pulses" + words,
                       [=](auto seed) { return pulses(seed, hangs, ramp, 0.004, 0.3); },
                       {{"high", 1.0},
                        {"low", 0.2},
                        {"amplitude", 0.8},
                        {"rise_time", between * interval},
                        {"fall_time", between * interval},
                        {"period", period * interval},
                        {"frequency", (1 + spread / (period * period)) / (period * interval)},
                        {"counted_frequency", 1 / (period * interval)},
                        {"positive_width", width * interval},
                        {"negative_width", (period - width) * interval},
                        {"duty_cycle", 100 * width / period}}});
    }
    for (const double hangs : {0.0, 0.9}) {
        const std::string words = hangs > 0 ? ", noise hangs together" : ", independent noise";
        constexpr double noise = 0.02, levels = 0.8;
        all.push_back({"data" + words,
                       [=](auto seed) { return data(seed, hangs, 0.01); },
                       {{"one_level", 0.4},
                        {"zero_level", -0.4},
                        {"eye_amplitude", levels},
                        {"eye_height", levels - 6 * noise},
                        {"one_noise", noise},
                        {"zero_noise", noise},
                        {"q_factor", levels / (2 * noise)},
                        {"signal_to_noise", 20 * std::log10(levels / (2 * noise))},
                        {"crossing_level", 50}},
                       true});
    }
    return all;
}

Document documentOf(const Signal &signal)
{
    Document document;
    document.captures.push_back({"r", "a.npy", {}, {}});
    document.captures[0].import.sampleInterval = interval;
    ChannelEntry channel;
    channel.id = "a";
    channel.capture = "r";
    document.channels.push_back(channel);
    if (signal.clocked) {
        ClockEntry clock;
        clock.id = "k";
        clock.source = "a";
        clock.method = "fixed";
        document.clocks.push_back(clock);
        document.eyes.push_back({"e", "a", "k", "", "auto"});
    }
    for (const auto &[quantity, truth] : signal.truth) {
        MeasurementEntry row;
        row.id = row.quantity = quantity;
        (signal.clocked ? row.eye : row.source) = signal.clocked ? "e" : "a";
        document.measurements.push_back(row);
    }
    return document;
}

} // namespace

std::vector<Calibration> calibrations(int runs)
{
    std::vector<Calibration> all;
    for (const Signal &signal : signals()) {
        std::map<std::string, Calibration> found;
        const Document document = documentOf(signal);
        for (int run = 1; run <= runs; ++run) {
            const TemporaryFolder folder;
            const std::vector<double> values = signal.make(std::uint64_t(run));
            folder.write("a.npy", npyHeader("<f8", std::int64_t(values.size())) + bytesOf(values));
            Engine engine(FULVEX_SHIPPED_MASKS);
            Progress progress;
            const Results results = engine.evaluate(document, folder.path(), {}, progress);
            for (const Row &row : results.rows) {
                Calibration &one = found[row.id];
                const double truth = signal.truth.at(row.id), off = row.statistics.mean.value_or(NAN) - truth;
                const double uncertainty = row.statistics.uncertainty.value_or(0);
                ++one.runs;
                one.held += std::abs(off) <= 2 * uncertainty;
                one.stray += off * off;
                one.uncertainty += uncertainty * uncertainty;
            }
        }
        for (auto &[quantity, one] : found) {
            one.quantity = quantity;
            one.signal = signal.words;
            one.stray = std::sqrt(one.stray / one.runs);
            one.uncertainty = std::sqrt(one.uncertainty / one.runs);
            all.push_back(one);
        }
    }
    return all;
}

} // namespace fulvex::test
