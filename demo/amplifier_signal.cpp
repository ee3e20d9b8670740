#include "amplifier_signal.h"

#include "gaussian.h"

namespace fulvex::demo {

AmplifierCapture makeAmplifier(const AmplifierTest &is)
{
    Gaussian random(is.seed);
    AmplifierCapture capture;
    const double turn = 2 * std::numbers::pi * is.tone;
    for (std::int64_t i = 0; i < is.samples; ++i) {
        const double time = double(i) / is.sampleRate;
        const double input = is.inputPeak * std::sin(turn * time) + is.inputNoise * random();
        const double output = is.gain * is.inputPeak * std::sin(turn * (time - is.delay)) + is.outputNoise * random();
        capture.input.push_back(std::int16_t(std::lround(input / is.inputLsb)));
        capture.output.push_back(std::int16_t(std::lround(output / is.outputLsb)));
    }
    return capture;
}

} // namespace fulvex::demo
