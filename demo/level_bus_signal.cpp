#include "level_bus_signal.h"

#include "gaussian.h"
#include "stepped_line.h"

namespace fulvex::demo {

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
    SteppedLine clockLine(clock, boundaries, is.edgeSigma), fourLine(four, fourAt, is.edgeSigma),
        threeLine(three, threeAt, is.edgeSigma);
    for (std::int64_t i = 0; i < is.samples; ++i) {
        const double time = double(i) / is.sampleRate;
        const auto code = [&](SteppedLine &line) {
            return std::int16_t(std::lround((line.at(time) + is.noise * random()) / is.lsb));
        };
        capture.clock.push_back(code(clockLine));
        capture.four.push_back(code(fourLine));
        capture.three.push_back(code(threeLine));
    }
    return capture;
}

} // namespace fulvex::demo
