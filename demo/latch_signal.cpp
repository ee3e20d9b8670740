#include "latch_signal.h"

#include "gaussian.h"

#include <algorithm>

namespace fulvex::demo {

namespace {

/// What a unit step has come to after `time`.
double stepResponse(const LatchDrive &is, double time)
{
    if (time <= 0) return 0;
    const double w = 2 * std::numbers::pi * is.resonance, root = std::sqrt(1 - is.damping * is.damping);
    const double decay = std::exp(-is.damping * w * time);
    return 1 - decay * (std::cos(w * root * time) + is.damping / root * std::sin(w * root * time));
}

struct Step {
    double time, size; ///< s, V
};

} // namespace

double LatchDrive::overshoot() const
{
    return std::exp(-std::numbers::pi * damping / std::sqrt(1 - damping * damping));
}

double LatchDrive::riseTime() const
{
    const auto first = [&](double level) { // on the first rise, which is monotonic
        double before = 0, behind = 0.5 / (resonance * std::sqrt(1 - damping * damping));
        for (int halving = 0; halving < 80; ++halving) {
            const double middle = (before + behind) / 2;
            (stepResponse(*this, middle) < level ? before : behind) = middle;
        }
        return before;
    };
    return first(0.9) - first(0.1);
}

LatchCapture makeLatch(const LatchDrive &is)
{
    Gaussian random(is.seed);
    LatchCapture capture;
    std::vector<Step> steps;
    const double record = double(is.samples) / is.sampleRate;
    double time = 0.8e-3;
    for (int pulse = 0;; ++pulse) {
        const double width = is.widths[std::size_t(pulse) % is.widths.size()];
        if (time + width + 0.5e-3 > record) break;
        if (std::find(is.loose.begin(), is.loose.end(), pulse) != is.loose.end()) {
            const double before = time - 0.5e-3;
            steps.push_back({before, is.looseHeight * is.high});
            steps.push_back({before + is.looseWidth, -is.looseHeight * is.high});
            capture.runtTimes.push_back(before);
        }
        steps.push_back({time, is.high});
        steps.push_back({time + width, -is.high});
        ++capture.pulses;
        time += width + is.pause + is.pauseJitter * random();
    }
    const double reach = 20 / (2 * std::numbers::pi * is.resonance * is.damping); // a step has settled to 2e-9
    std::size_t settledSteps = 0;
    double settled = 0;
    for (std::int64_t i = 0; i < is.samples; ++i) {
        const double at = double(i) / is.sampleRate;
        while (settledSteps < steps.size() && steps[settledSteps].time < at - reach)
            settled += steps[settledSteps++].size;
        double volts = settled;
        for (std::size_t k = settledSteps; k < steps.size() && steps[k].time < at; ++k)
            volts += steps[k].size * stepResponse(is, at - steps[k].time);
        const double code = std::round((volts + is.noise * random()) / is.lsb);
        capture.codes.push_back(std::int16_t(std::clamp(code, -8192.0, 16383.0)));
    }
    return capture;
}

} // namespace fulvex::demo
