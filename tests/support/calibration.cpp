#include "calibration.h"

#include "engine.h"
#include "npy_header.h"
#include "quantity_table.h"
#include "signals.h"
#include "temporary_folder.h"
#include "two_columns.h"

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

using Waveforms = std::vector<std::vector<double>>; ///< one or two, as long as each other

/// A way to make a signal, and what is true of it.
struct Signal {
    std::string words;
    std::function<Waveforms(std::uint64_t seed)> make;
    std::map<std::string, double> truth; ///< by quantity; of the first channel, or from it to the second
    bool clocked = false;
};

constexpr double interval = 1e-9;

constexpr double period = 201.37; ///< samples, of pulses

/// Trapezoids of 0.2 V to `amplitude` above, rising and falling in `ramp` samples, with noise on the value and on the
/// edges. The levels lie at least three samples from a corner, beside which curves and straight lines differ.
struct Pulses {
    int count = 400;
    double start = 20.1, width = 93.3, ramp = 32, amplitude = 0.8; ///< samples, between mid crossings; V
    double noise = 0.004, jitter = 0.3, hangs = 0;                 ///< V rms, samples rms
    int leftOut = 0;                                               ///< 5: each fifth

    double slope() const { return amplitude / ramp; }
    std::vector<double> made(std::uint64_t seed) const
    {
        Noise volts(seed, hangs), instants(seed + 1000003, hangs);
        std::vector<double> values(std::size_t(period * count));
        std::vector<double> edges;
        for (int i = 0; i < count; ++i) {
            const double from = start + period * i + jitter * instants(), to = start + period * i + width;
            if (leftOut && i % leftOut == 0) continue;
            edges.push_back(from);
            edges.push_back(to + jitter * instants());
        }
        std::size_t next = 0;
        for (std::size_t i = 0; i < values.size(); ++i) {
            while (next < edges.size() && edges[next] + ramp / 2 < double(i)) ++next;
            const double along = next < edges.size() ? std::clamp((double(i) - edges[next]) / ramp + 0.5, 0.0, 1.0) : 0;
            values[i] = 0.2 + amplitude * (next % 2 ? 1 - along : along) + noise * volts();
        }
        return values;
    }
    /// Of those that are of one pulse and its edges: all but what needs many.
    std::map<std::string, double> truth() const
    {
        // The mean of 1 / T lies above 1 / mean T by the variance of T: of two instants', each of the noise that a
        // place between two samples takes (two thirds of it on a straight line).
        const double spread = 2 * std::pow(noise / slope(), 2) * 0.7, lasts = 0.8 * ramp;
        const double slewed = 0.8 * amplitude / (lasts * interval) * (1 + spread / (lasts * lasts));
        const double outside = 0.1 * amplitude * 0.1 * ramp / 2; // of an area from 10 % to 10 %, at either end
        return {{"rise_time", lasts * interval},
                {"fall_time", lasts * interval},
                {"slew_rate_rising", slewed},
                {"slew_rate_falling", -slewed},
                {"slope_at_mid", slope() / interval},
                {"settling_time", 0.4 * ramp * interval}, // within 10 %
                {"pulse_area", (amplitude * width - 2 * outside) * interval},
                {"positive_width", width * interval},
                {"negative_width", (period - width) * interval}};
    }
};

constexpr double sineNoise = 0.004; ///< V rms

/// A sine of some volts, as late as that, about 0.1 V.
std::vector<double> sine(std::uint64_t seed, double volts, double late, double noise = sineNoise)
{
    Noise next(seed, 0);
    std::vector<double> values(60000);
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = 0.1 + volts * std::sin(2 * std::numbers::pi * (double(i) - late) / period) + noise * next();
    return values;
}

/// Of all samples, the last part of a cycle with them.
double expectedAcRms(double volts, double late)
{
    std::vector<double> values = sine(0, volts, late, 0);
    const double mean = meanOf(values);
    for (double &v : values) v -= mean;
    return std::hypot(rmsOf(values), sineNoise);
}

/// Expected extreme of so many Gaussian values, in standard deviations.
double expectedMost(double count)
{
    double expected = 0;
    constexpr double step = 1e-3;
    for (double x = -8; x < 8; x += step)
        expected += step * ((x > 0) - std::pow(0.5 * std::erfc(-x / std::sqrt(2.0)), count)); // of 1 - F, and of -F
    return expected;
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

void add(std::map<std::string, double> &truth, const std::map<std::string, double> &more)
{
    truth.insert(more.begin(), more.end());
}

Signal noiseSignal(double hangs)
{
    return {"noise about 0.5 V",
            [=](auto seed) { return Waveforms{slowNoise(seed, hangs)}; },
            {{"mean", 0.5}, {"ac_rms", 0.1}, {"rms", std::hypot(0.5, 0.1)}}};
}

Signal pulseSignal(double hangs)
{
    Pulses pulses;
    pulses.hangs = hangs;
    const double spread =
        2 * 0.3 * 0.3 * (1 - hangs * hangs) + 2 * std::pow(pulses.noise / pulses.slope(), 2) * 0.7; // as in truth()
    std::map<std::string, double> truth{{"high", 1.0},
                                        {"low", 0.2},
                                        {"amplitude", 0.8},
                                        {"period", period * interval},
                                        {"frequency", (1 + spread / (period * period)) / (period * interval)},
                                        {"counted_frequency", 1 / (period * interval)},
                                        {"duty_cycle", 100 * pulses.width / period}};
    add(truth, pulses.truth());
    return {"pulses", [=](auto seed) { return Waveforms{pulses.made(seed)}; }, truth};
}

/// So few that noise says what their scatter cannot.
Signal singlePulses()
{
    Pulses pulses;
    pulses.count = 2;
    pulses.jitter = 0;
    std::map<std::string, double> truth = pulses.truth();
    add(truth, {{"period", period * interval}, {"duty_cycle", 100 * pulses.width / period}});
    return {"two pulses", [=](auto seed) { return Waveforms{pulses.made(seed)}; }, truth};
}

Signal burstSignal()
{
    Pulses pulses;
    pulses.leftOut = 5;
    return {"bursts of four pulses",
            [=](auto seed) { return Waveforms{pulses.made(seed)}; },
            {{"burst_width", (3 * period + pulses.width) * interval}}};
}

/// The second channel's pulses are smaller, slower and 40 samples later.
Signal twoPulses(int count)
{
    Pulses first, second;
    first.count = second.count = count;
    if (count < 4) first.jitter = second.jitter = 0;
    second.start += 40;
    second.ramp = 48;
    second.amplitude = 0.6;
    std::map<std::string, double> truth{{"delay", 40 * interval},
                                        {"setup_time", 40 * interval},
                                        {"hold_time", (first.width - 40) * interval},
                                        {"device_rise_time", 0.8 * std::sqrt(48.0 * 48 - 32 * 32) * interval}};
    if (count >= 4) truth["phase"] = 360 * 40 / period;
    return {count < 4 ? "two pulses and their answer" : "pulses and their answer",
            [=](auto seed) {
                return Waveforms{first.made(seed), second.made(seed + 500009)};
            },
            truth};
}

Signal twoSines()
{
    constexpr double from = 0.4, to = 0.3, late = 31.4;
    const double gain = expectedAcRms(to, late) / expectedAcRms(from, 0);
    return {"sines",
            [=](auto seed) {
                return Waveforms{sine(seed, from, 0), sine(seed + 500009, to, late)};
            },
            {{"ac_rms", expectedAcRms(from, 0)},
             {"mean", meanOf(sine(0, from, 0, 0))},
             {"gain", gain},
             {"gain_db", 20 * std::log10(gain)},
             {"phase", 360 * late / period},
             {"peak_time", period / 4 * interval},
             {"counted_frequency", 1 / (period * interval)}}};
}

Signal dataSignal(double hangs)
{
    constexpr double noise = 0.02, levels = 0.8;
    return {"data",
            [=](auto seed) { return Waveforms{data(seed, hangs, 0.01)}; },
            {{"one_level", 0.4},
             {"zero_level", -0.4},
             {"eye_amplitude", levels},
             {"eye_height", levels - 6 * noise},
             {"one_noise", noise},
             {"zero_noise", noise},
             {"q_factor", levels / (2 * noise)},
             {"signal_to_noise", 20 * std::log10(levels / (2 * noise))},
             {"crossing_level", 50}},
            true};
}

/// Data whose crossings scatter by jitter alone.
Signal jitteredData()
{
    DataSpec spec;
    spec.samplesPerUi = 24.6;
    spec.unitIntervals = 3000;
    spec.edgeSigma = 0.15;
    spec.randomJitter = 0.01;
    const double unit = spec.samplesPerUi * interval, jitter = spec.randomJitter * unit;
    return {"data with jitter",
            [=](auto seed) {
                DataSpec one = spec;
                one.seed = seed;
                return Waveforms{makeData(one).volts};
            },
            {{"eye_jitter_rms", jitter},
             {"eye_width", unit - 6 * jitter},
             {"eye_jitter_pp", 2 * expectedMost(double(spec.unitIntervals) / 2) * jitter}},
            true};
}

std::vector<Signal> signals()
{
    std::vector<Signal> all{noiseSignal(0), pulseSignal(0), dataSignal(0)};
    for (Signal &signal : all) signal.words += ", independent noise";
    for (Signal signal : {noiseSignal(0.97), pulseSignal(0.9), dataSignal(0.9)}) {
        signal.words += ", noise hangs together";
        all.push_back(signal);
    }
    for (const Signal &signal :
         {singlePulses(), burstSignal(), twoPulses(400), twoPulses(2), twoSines(), jitteredData()})
        all.push_back(signal);
    return all;
}

Document documentOf(const Signal &signal)
{
    Document document = twoColumns(interval);
    if (signal.clocked) {
        document.clocks.push_back({.id = "k", .source = "a", .method = "fixed"});
        document.eyes.push_back({"e", "a", "k", "", "auto"});
    }
    for (const auto &[quantity, truth] : signal.truth) {
        MeasurementEntry row;
        row.id = row.quantity = quantity;
        (signal.clocked ? row.eye : row.source) = signal.clocked ? "e" : "a";
        const Quantity &takes = *findQuantity(quantity);
        if (takes.takes("to")) row.to = "b";
        if (takes.takes("gap")) row.gap = 150 * interval;
        if (takes.takes("band")) row.band = 10;
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
            const Waveforms channels = signal.make(std::uint64_t(run));
            std::vector<double> rows; // one after the other; of one channel twice
            for (std::size_t i = 0; i < channels.front().size(); ++i)
                rows.insert(rows.end(), {channels.front()[i], channels.back()[i]});
            folder.write("a.npy", npyHeader("<f8", std::int64_t(channels.front().size()), 2) + bytesOf(rows));
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
