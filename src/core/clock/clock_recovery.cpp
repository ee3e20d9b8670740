#include "clock_recovery.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>
#include <tuple>

namespace fulvex {

namespace {

double bestOffset(const EdgeList &edges, const SymbolTiming &timing, double period)
{
    double sum = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) sum += edges.positions[i] - period * timing.numbers[i];
    return sum / double(edges.size());
}

std::complex<double> transfer(const LoopRule &rule, double frequency)
{
    const double wn = rule.naturalFrequency();
    const std::complex<double> s(0, 2 * std::numbers::pi * frequency);
    if (rule.order == 1) return wn / (s + wn);
    const std::complex<double> top = 2 * rule.damping * wn * s + wn * wn;
    return top / (s * s + top);
}

} // namespace

double LoopRule::naturalFrequency() const
{
    const double w = 2 * std::numbers::pi * bandwidth;
    if (order == 1) return w; // the corner of 1 - H is the same
    const double z = damping;
    if (!ofError) {
        const double a = 1 + 2 * z * z;
        return w / std::sqrt(a + std::sqrt(a * a + 1));
    }
    // |1 - H|^2 = x^4 / ((1 - x^2)^2 + 4 z^2 x^2) = 1/2 at x = w / wn: x^4 + (2 - 4 z^2) x^2 - 1 = 0.
    const double b = 1 - 2 * z * z;
    return w / std::sqrt(-b + std::sqrt(b * b + 1));
}

double LoopRule::followed(double frequency) const
{
    return std::abs(transfer(*this, frequency));
}

double LoopRule::left(double frequency) const
{
    return std::abs(1.0 - transfer(*this, frequency));
}

Clock fixedClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                 std::optional<double> period)
{
    const double offset = period ? bestOffset(*edges, *timing, *period) : timing->offset;
    const double used = period.value_or(timing->period);
    return Clock(offset, used, std::move(edges), std::move(timing), axis);
}

Clock loopClock(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing, TimeAxis axis,
                std::optional<double> period, const LoopRule &rule)
{
    // A loop of order 2 ends at the true rate whatever it starts from; one of order 1 lags behind a wrong rate for
    // good.
    const double base = rule.order == 1 ? period.value_or(timing->period) : timing->period;
    const double offset = rule.order == 1 && period ? bestOffset(*edges, *timing, base) : timing->offset;

    // Per unit interval h: y' = w + g e, w' = k e, e = x - y, by the trapezoidal rule; the bandwidth is prewarped so
    // that the bilinear transform's bend of the frequency axis does not move it.
    const double rate = 1 / (base * axis.interval), corner = std::min(rule.bandwidth / rate, 0.45);
    LoopRule warped = rule;
    warped.bandwidth = std::tan(std::numbers::pi * corner) / std::numbers::pi;
    const double wn = warped.naturalFrequency();
    const double g = rule.order == 1 ? wn : 2 * rule.damping * wn, k = rule.order == 1 ? 0 : wn * wn;
    const double c = g / 2 + k / 4;

    // From one edge to the next the loop is linear in its state (y, w) and the phases before and at the edge; the map
    // for a run of `steps` unit intervals is found once by running unit inputs through it.
    const auto run = [&](int steps, double y, double w, double from, double to) {
        double x = from;
        for (int step = 0; step < steps; ++step) {
            const double error = x - y;
            x += (to - from) / steps;
            y = (y + w + c * (error + x)) / (1 + c);
            w += k / 2 * (error + x - y);
        }
        return std::pair(y, w);
    };
    struct Step {
        double yy, yw, yFrom, yTo, wy, ww, wFrom, wTo;
    };
    std::vector<Step> table(1);
    for (int steps = 1; steps <= 64; ++steps) {
        const auto y = run(steps, 1, 0, 0, 0), w = run(steps, 0, 1, 0, 0), from = run(steps, 0, 0, 1, 0),
                   to = run(steps, 0, 0, 0, 1);
        table.push_back({y.first, w.first, from.first, to.first, y.second, w.second, from.second, to.second});
    }
    const double inverse = 1 / base;
    std::vector<double> followed(edges->size());
    double y = 0, w = 0, before = 0;
    for (std::size_t i = 0; i < edges->size(); ++i) {
        const double late = (edges->positions[i] - offset) * inverse - timing->numbers[i];
        const int steps = i == 0 ? 0 : timing->numbers[i] - timing->numbers[i - 1];
        if (i == 0) y = rule.order == 1 ? 0 : late;
        if (steps >= int(table.size())) {
            std::tie(y, w) = run(steps, y, w, before, late);
        } else if (steps > 0) {
            const Step &s = table[std::size_t(steps)];
            const double driveY = s.yFrom * before + s.yTo * late, driveW = s.wFrom * before + s.wTo * late;
            const double nextY = s.yy * y + s.yw * w + driveY;
            w = s.wy * y + s.ww * w + driveW;
            y = nextY;
        }
        if (steps > 0 || i == 0) before = late;
        followed[i] = y;
    }
    const double settle =
        (edges->positions.empty() ? 0 : std::max(0.0, edges->positions[0])) * axis.interval + 3 / rule.bandwidth;
    return Clock(offset, base, std::move(edges), std::move(timing), axis, std::move(followed), settle);
}

} // namespace fulvex
