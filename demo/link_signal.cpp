#include "link_signal.h"

#include "gaussian.h"
#include "turn.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fulvex::demo {

namespace {

double normalCdf(double x)
{
    return 0.5 * std::erfc(-x * std::numbers::sqrt2 / 2);
}

struct Edge {
    double time, step; ///< s, V
};

class Link {
public:
    explicit Link(const LinkImpairments &impairments) : m_is(impairments)
    {
        const double period = 1 / m_is.symbolRate, record = double(m_is.samples) / m_is.sampleRate;
        const auto bits = std::int64_t(record / period) + 40;
        Gaussian random(m_is.seed);
        for (std::int64_t bit = -40; bit < bits; ++bit) {
            if (m_is.bit(bit) == m_is.bit(bit - 1)) continue;
            const double ideal = m_is.firstBoundary + double(bit) * period;
            const double late = m_is.wanderPeak * std::sin(turn * m_is.wanderFrequency * ideal) +
                                m_is.ripplePeak * std::sin(turn * m_is.rippleFrequency * ideal) +
                                m_is.randomJitter * random();
            m_edges.push_back({ideal + late, m_is.bit(bit) ? 2 * m_is.amplitude : -2 * m_is.amplitude});
        }
        m_start = m_is.bit(-41) ? m_is.amplitude : -m_is.amplitude;
        placeDent(period, bits);
    }
    std::int64_t dentedBit() const { return m_dentedBit; }
    double dentTime() const { return m_dentTime; }

    /// The differential voltage at times that never run backwards.
    double at(double time, std::size_t &cursor, double &settled) const
    {
        const double reach = 12e-9; // beyond it a step has settled to 1e-6
        while (cursor < m_edges.size() && m_edges[cursor].time < time - reach) settled += m_edges[cursor++].step;
        double value = settled;
        for (std::size_t i = cursor; i < m_edges.size() && m_edges[i].time < time + 7 * m_is.edgeSigma; ++i)
            value += m_edges[i].step * stepResponse(time - m_edges[i].time);
        if (m_dentedBit >= 0) {
            const double x = (time - m_dentTime) / m_is.dentSigma;
            if (std::abs(x) < 7) value -= m_is.dentDepth * std::exp(-x * x / 2);
        }
        return value;
    }
    double start() const { return m_start; }

private:
    double stepResponse(double t) const
    {
        const double z = t / m_is.edgeSigma, k = m_is.edgeSigma / m_is.tailTime;
        const double edge = normalCdf(z);
        return edge - m_is.tailShare * std::exp(k * k / 2 - t / m_is.tailTime) * normalCdf(z - k);
    }
    void placeDent(double period, std::int64_t bits)
    {
        for (std::int64_t bit = m_is.dentedBit; m_is.dentedBit >= 0 && bit < bits; ++bit) {
            bool ones = true;
            for (std::int64_t i = bit - 2; i <= bit + 2; ++i) ones &= m_is.bit(i);
            if (!ones) continue;
            const double ideal = m_is.firstBoundary + (double(bit) + 0.5) * period;
            m_dentedBit = bit;
            m_dentTime = ideal + m_is.wanderPeak * std::sin(turn * m_is.wanderFrequency * ideal);
            return;
        }
    }

    const LinkImpairments &m_is;
    std::vector<Edge> m_edges;
    double m_start = 0;
    std::int64_t m_dentedBit = -1;
    double m_dentTime = 0;
};

} // namespace

bool linkBit(std::int64_t index)
{
    static const std::array<bool, 511> pattern = [] {
        std::array<bool, 511> bits{};
        unsigned state = 0x1ff;
        for (bool &bit : bits) {
            bit = state & 1;
            const unsigned fresh = (state ^ state >> 4) & 1; // x^9 + x^5 + 1
            state = state >> 1 | fresh << 8;
        }
        return bits;
    }();
    return pattern[std::size_t(((index % 511) + 511) % 511)];
}

LinkCapture makeLink(const LinkImpairments &is)
{
    const Link link(is);
    LinkCapture capture;
    constexpr double step = 16; // the converter's 12 bits stand at the upper end of the 16
    capture.lsb = is.fullScale / 2048 / step;
    capture.dentedBit = link.dentedBit();
    capture.dentTime = link.dentTime();
    Gaussian noiseP(is.seed + 1), noiseN(is.seed + 2);
    std::size_t cursorP = 0, cursorN = 0;
    double settledP = link.start(), settledN = link.start();
    const auto code = [&](double volts) {
        return std::int16_t(step * std::clamp(std::round(volts / (step * capture.lsb)), -2048.0, 2047.0));
    };
    for (std::int64_t k = 0; k < is.samples; ++k) {
        const double time = double(k) / is.sampleRate;
        capture.p.push_back(code(link.at(time, cursorP, settledP) / 2 + is.legNoise * noiseP()));
        capture.n.push_back(code(-link.at(time - is.legSkew, cursorN, settledN) / 2 + is.legNoise * noiseN()));
    }
    return capture;
}

} // namespace fulvex::demo
