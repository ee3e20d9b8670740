#include "level_bus_signal.h"

#include "gaussian.h"

namespace fulvex::demo {

namespace {

/// A line that takes a level in each unit interval: sums the steps of the boundaries near by.
class Line {
public:
    Line(const LevelBus &is, std::vector<double> levels, const std::vector<double> &boundaries)
        : m_is(is), m_levels(std::move(levels)), m_boundaries(boundaries)
    {
    }
    double at(double time)
    {
        const double reach = 8 * m_is.edgeSigma;
        while (m_first + 1 < m_levels.size() && m_boundaries[m_first + 1] < time - reach) ++m_first;
        double value = m_levels[m_first];
        for (std::size_t n = m_first + 1; n < m_levels.size() && m_boundaries[n] < time + reach; ++n)
            value += (m_levels[n] - m_levels[n - 1]) * 0.5 *
                     std::erfc(-(time - m_boundaries[n]) / m_is.edgeSigma / std::numbers::sqrt2);
        return value;
    }

private:
    const LevelBus &m_is;
    std::vector<double> m_levels, m_boundaries;
    std::size_t m_first = 0;
};

} // namespace

LevelBusCapture makeLevelBus(const LevelBus &is)
{
    Gaussian random(is.seed);
    const double unit = 1 / is.symbolRate;
    const auto symbols = std::size_t(double(is.samples) / is.sampleRate / unit) + 3;
    std::vector<double> boundaries, fourAt, threeAt, clock, four, three;
    LevelBusCapture capture;
    constexpr std::array<int, 4> round{0, 1, 2, 1};
    std::size_t place = 0;
    for (std::size_t n = 0; n < symbols; ++n) {
        const double even = is.firstBoundary + double(n) * unit,
                     at = even + is.wanderPeak * std::sin(2 * std::numbers::pi * is.wanderFrequency * even);
        boundaries.push_back(at);
        fourAt.push_back(at + is.randomJitter * random());
        threeAt.push_back(at + is.randomJitter * random());
        capture.fourSymbols.push_back(int(random.uniform() * 4));
        if (random.uniform() < 0.5) place = (place + 1) % round.size();
        capture.threeSymbols.push_back(round[place]);
        clock.push_back(n % 2 ? is.clockSwing : 0);
        four.push_back(is.four[std::size_t(capture.fourSymbols.back())]);
        three.push_back(is.three[std::size_t(capture.threeSymbols.back())]);
    }
    Line clockLine(is, clock, boundaries), fourLine(is, four, fourAt), threeLine(is, three, threeAt);
    for (std::int64_t i = 0; i < is.samples; ++i) {
        const double time = double(i) / is.sampleRate;
        const auto code = [&](Line &line) {
            return std::int16_t(std::lround((line.at(time) + is.noise * random()) / is.lsb));
        };
        capture.clock.push_back(code(clockLine));
        capture.four.push_back(code(fourLine));
        capture.three.push_back(code(threeLine));
    }
    return capture;
}

} // namespace fulvex::demo
