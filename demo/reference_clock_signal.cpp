#include "reference_clock_signal.h"

#include "gaussian.h"
#include "stepped_line.h"
#include "turn.h"

namespace fulvex::demo {

namespace {
}

double ReferenceClock::levelAt(double offset) const
{
    // One-sided, of edges T apart: white has 2 T rms^2; a sum of steps has 2 T rms^2 / |1 - exp(-i 2 pi f T)|^2.
    const double T = 0.5 / frequency, radians = turn * frequency, half = std::sin(turn * offset * T / 2);
    return 10 * std::log10(radians * radians * T * (whiteJitter * whiteJitter + walk * walk / (4 * half * half)));
}

double ReferenceClock::lineLevel() const
{
    return 20 * std::log10(turn * frequency * ripplePeak / 2);
}

std::vector<std::int16_t> makeReferenceClock(const ReferenceClock &is)
{
    Gaussian random(is.seed);
    const double half = 0.5 / is.frequency;
    std::vector<double> levels{0}, boundaries{is.firstEdge - half};
    double walked = 0;
    for (std::int64_t n = 0; boundaries.back() < double(is.samples) / is.sampleRate + half; ++n) {
        const double even = is.firstEdge + double(n) * half;
        walked += is.walk * random();
        boundaries.push_back(even + walked + is.whiteJitter * random() +
                             is.ripplePeak * std::sin(turn * is.rippleFrequency * even));
        levels.push_back(n % 2 == 0 ? is.swing : 0);
    }
    SteppedLine line(std::move(levels), std::move(boundaries), is.edgeSigma);
    std::vector<std::int16_t> codes;
    codes.reserve(std::size_t(is.samples));
    for (std::int64_t i = 0; i < is.samples; ++i)
        codes.push_back(std::int16_t(std::lround((line.at(double(i) / is.sampleRate) + is.noise * random()) / is.lsb)));
    return codes;
}

} // namespace fulvex::demo
