#include "simulated_link.h"

#include "gaussian.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex::demo {

namespace {

constexpr std::size_t phases = 64, noises = 1 << 18;
constexpr double before = 5, behind = 7e-9; ///< edge sigmas, s: where a step begins, and has settled to 0.02 %

double normalCdf(double x)
{
    return 0.5 * std::erfc(-x * std::numbers::sqrt2 / 2);
}

} // namespace

SimulatedLink::SimulatedLink(std::uint64_t seed, std::size_t samples) : m_random(seed)
{
    m_is.seed = seed;
    m_is.samples = std::int64_t(samples);
    Gaussian normal(seed + 1);
    m_noise.resize(noises);
    for (float &one : m_noise) one = float(normal());
    const double lead = before * m_is.edgeSigma * m_is.sampleRate; // samples
    const auto length = std::size_t(lead + behind * m_is.sampleRate);
    for (std::size_t phase = 0; phase < phases; ++phase) {
        std::vector<float> &step = m_steps.emplace_back(length);
        for (std::size_t i = 0; i < length; ++i) {
            const double t = (double(i) - lead - double(phase) / double(phases)) / m_is.sampleRate;
            const double z = t / m_is.edgeSigma, k = m_is.edgeSigma / m_is.tailTime;
            step[i] = float(normalCdf(z) - m_is.tailShare * std::exp(k * k / 2 - t / m_is.tailTime) * normalCdf(z - k));
        }
    }
}

double SimulatedLink::interval() const
{
    return 1 / m_is.sampleRate;
}

double SimulatedLink::scale() const
{
    return m_is.fullScale / 32768;
}

void SimulatedLink::addStep(std::vector<float> &leg, double place, float step)
{
    const double first = std::floor(place * phases + 0.5) / phases;
    const auto whole = std::int64_t(std::floor(first));
    const std::vector<float> &response = m_steps[std::size_t((first - double(whole)) * phases)];
    const auto lead = std::int64_t(before * m_is.edgeSigma * m_is.sampleRate);
    const std::int64_t from = whole - lead, size = std::int64_t(leg.size()) - 1;
    const std::int64_t low = std::max<std::int64_t>(0, from),
                       high = std::min<std::int64_t>(size, from + std::int64_t(response.size()));
    // What is added are differences, so that a step stays after its response.
    float last = 0;
    for (std::int64_t i = low; i < high; ++i) {
        leg[std::size_t(i)] += step * (response[std::size_t(i - from)] - last);
        last = response[std::size_t(i - from)];
    }
    if (high <= size) leg[std::size_t(std::max<std::int64_t>(high, 0))] += step * (1 - last);
}

void SimulatedLink::finish(std::vector<float> &leg, float level, float noise, std::vector<std::int16_t> &codes)
{
    const std::size_t count = leg.size() - 1;
    codes.resize(count);
    const float factor = float(1 / scale());
    std::size_t at = m_random() % noises;
    for (std::size_t i = 0; i < count; ++i) {
        if (i % 4096 == 0) at = m_random() % (noises - 4096); // pieces of the table in another order each time
        level += leg[i];
        const float code = (level + noise * m_noise[at + i % 4096]) * factor;
        codes[i] = std::int16_t(std::clamp(std::lrintf(code), -32768l, 32767l));
    }
}

void SimulatedLink::make(const SimulatedFaults &faults)
{
    const double period = m_is.sampleRate / m_is.symbolRate; // samples
    const auto count = std::size_t(m_is.samples);
    const auto bits = std::int64_t(double(count) / period) + 40;
    m_legP.assign(count + 1, 0);
    m_legN.assign(count + 1, 0);
    const std::int64_t from = std::int64_t(m_random() % 511);
    const double start = double(m_random() % 1000) / 1000 * period;
    const double turn = 2 * std::numbers::pi, ripple = double(m_random() % 1000) / 1000;
    constexpr std::int64_t early = 20; // bits before the record, whose tails reach into it
    for (std::int64_t bit = -early; bit < bits; ++bit) {
        if (linkBit(from + bit) == linkBit(from + bit - 1)) continue;
        const double ideal = start + double(bit) * period, time = ideal / m_is.sampleRate;
        const double late = faults.ripplePeak * std::sin(turn * (m_is.rippleFrequency * time + ripple)) +
                            faults.randomJitter * double(m_noise[m_random() % noises]);
        const auto step = float(linkBit(from + bit) ? m_is.amplitude : -m_is.amplitude); // of a leg, half of both
        addStep(m_legP, ideal + late * m_is.sampleRate, step);
        addStep(m_legN, ideal + (late + m_is.legSkew) * m_is.sampleRate, -step);
    }
    if (faults.dent) { // of a bit in the middle of ones
        std::int64_t bit = bits / 2;
        const auto isInOnes = [&](std::int64_t at) {
            for (std::int64_t i = at - 2; i <= at + 2; ++i)
                if (!linkBit(from + i)) return false;
            return true;
        };
        while (bit < bits && !isInOnes(bit)) ++bit;
        const double middle = start + (double(bit) + 0.5) * period, sigma = m_is.dentSigma * m_is.sampleRate;
        const auto depth = [&](std::int64_t i) {
            const double x = (double(i) - middle) / sigma;
            return float(-m_is.dentDepth / 2 * std::exp(-x * x / 2));
        };
        for (auto i = std::int64_t(middle - 6 * sigma); i < std::int64_t(middle + 6 * sigma); ++i) {
            if (i < 0 || i >= std::int64_t(count)) continue;
            m_legP[std::size_t(i)] += depth(i) - depth(i - 1);
            m_legN[std::size_t(i)] -= depth(i) - depth(i - 1);
        }
    }
    const auto level = float(linkBit(from - early - 1) ? m_is.amplitude / 2 : -m_is.amplitude / 2);
    finish(m_legP, level, float(faults.noise), m_p);
    finish(m_legN, -level, float(faults.noise), m_n);
}

} // namespace fulvex::demo
