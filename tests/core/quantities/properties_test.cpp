// What must come out of a signal that was scaled, shifted, turned over, cut or joined, whatever the signal.

#include "memory_inputs.h"
#include "signals.h"

#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

using namespace fulvex;
using test::MemoryInputs;

namespace {

/// The same signals in every run; RC_PARAMS given from outside are kept.
const bool sameSeeds = [] {
    setenv("RC_PARAMS", "seed=26112026 max_success=40", 0);
    return true;
}();

/// Pulses of several widths with quiet at both ends, noise, and an overshoot.
struct Pulses {
    std::vector<double> volts;
    std::size_t quiet = 0; ///< a sample in the middle of a low stretch
};

Pulses pulsesOf(std::uint64_t seed, double edge, double noise)
{
    test::Gaussian random(seed);
    struct Step {
        double at, size;
    };
    std::vector<Step> steps;
    Pulses made;
    double at = 200;
    for (int pulse = 0; pulse < 30; ++pulse) {
        const double width = 60 + 100 * random.uniform() + 4 * edge;
        steps.push_back({at, 1});
        steps.push_back({at + width, -1});
        at += width + 90 + 80 * random.uniform() + 4 * edge;
        if (pulse == 14) made.quiet = std::size_t(at - 40);
    }
    made.volts.resize(std::size_t(at + 200));
    const double w = 3 / edge; // second order, damped by 0.6: 9.5 % overshoot
    for (std::size_t i = 0; i < made.volts.size(); ++i) {
        double v = 0;
        for (const Step &step : steps) {
            const double t = double(i) - step.at;
            if (t <= 0) break;
            v += step.size * (1 - std::exp(-0.6 * w * t) * (std::cos(0.8 * w * t) + 0.75 * std::sin(0.8 * w * t)));
        }
        made.volts[i] = v + noise * random();
    }
    return made;
}

rc::Gen<Pulses> somePulses()
{
    return rc::gen::map(
        rc::gen::tuple(rc::gen::inRange(1, 1'000'000), rc::gen::inRange(6, 30), rc::gen::inRange(0, 20)),
        [](const std::tuple<int, int, int> &how) {
            const auto [seed, edge, noise] = how;
            return pulsesOf(std::uint64_t(seed), double(edge), 1e-3 * noise);
        });
}

constexpr const char *times[] = {"rise_time", "fall_time", "positive_width", "negative_width", "period"};
constexpr const char *volts[] = {"maximum", "minimum", "mean", "high", "low"};

std::vector<double> changed(std::vector<double> values, double scale, double offset)
{
    for (double &v : values) v = scale * v + offset;
    return values;
}

double meanOf(MemoryInputs &inputs, const char *quantity)
{
    const Statistics found = inputs.measure(quantity).statistics();
    RC_ASSERT(found.mean.has_value());
    return *found.mean;
}

void near(double is, double wanted, double within)
{
    RC_ASSERT(std::abs(is - wanted) <= within);
}

} // namespace

namespace rc {
template <>
struct Arbitrary<Pulses> {
    static Gen<Pulses> arbitrary() { return somePulses(); }
};
} // namespace rc

/// States come from bins, which lie elsewhere for other values: they move by a part of a bin, 1 / 1024 of the swing,
/// and what lies at their percentages with them.
RC_GTEST_PROP(Properties, ScalingAndShiftingMovesVoltsAndNothingElse, (const Pulses &pulses))
{
    const double scale = std::pow(10.0, *rc::gen::inRange(-60, 60) / 10.0),
                 offset = scale * *rc::gen::inRange(-5000, 5000) / 100.0;
    MemoryInputs plain(pulses.volts), other(changed(pulses.volts, scale, offset));
    RC_ASSERT(plain.edges()->size() == other.edges()->size());
    const double step = 2e-3;
    for (const char *quantity : volts)
        near(meanOf(other, quantity), scale * meanOf(plain, quantity) + offset, scale * step + 1e-9 * std::abs(offset));
    const double rise = meanOf(plain, "rise_time");
    for (const char *quantity : times) near(meanOf(other, quantity), meanOf(plain, quantity), 0.02 * rise);
    for (const char *quantity : {"overshoot_rising", "preshoot_falling", "duty_cycle"})
        near(meanOf(other, quantity), meanOf(plain, quantity), 0.5);
    near(meanOf(other, "slew_rate_rising"), scale * meanOf(plain, "slew_rate_rising"),
         0.02 * scale * meanOf(plain, "slew_rate_rising"));
}

RC_GTEST_PROP(Properties, TurnedOverRisingIsFallingAndHighIsLow, (const Pulses &pulses))
{
    MemoryInputs plain(pulses.volts), turned(changed(pulses.volts, -1, 0));
    RC_ASSERT(plain.edges()->size() == turned.edges()->size());
    const double rise = meanOf(plain, "rise_time");
    const auto is = [&](const char *of, const char *was, double sign, double within) {
        near(meanOf(turned, of), sign * meanOf(plain, was), within);
    };
    is("rise_time", "fall_time", 1, 0.02 * rise);
    is("fall_time", "rise_time", 1, 0.02 * rise);
    is("positive_width", "negative_width", 1, 0.02 * rise);
    is("negative_width", "positive_width", 1, 0.02 * rise);
    is("high", "low", -1, 2e-3);
    is("low", "high", -1, 2e-3);
    is("maximum", "minimum", -1, 0);
    is("overshoot_rising", "overshoot_falling", 1, 0.5);
    is("preshoot_falling", "preshoot_rising", 1, 0.5);
    is("rising_runts", "falling_runts", 1, 0);
    is("rms", "rms", 1, 1e-12);
}

/// With the same levels, what lies to either side of a quiet place is found there to the last bit.
RC_GTEST_PROP(Properties, CuttingAtAQuietPlaceParts, (const Pulses &pulses))
{
    LevelRule rule;
    rule.states = LevelRule::States::fixed;
    rule.stateLow = 0, rule.stateHigh = 1;
    const auto cut = pulses.volts.begin() + std::ptrdiff_t(pulses.quiet);
    MemoryInputs whole(pulses.volts, 1e-9, rule), first({pulses.volts.begin(), cut}, 1e-9, rule),
        second({cut, pulses.volts.end()}, 1e-9, rule);
    for (const char *quantity : {"rise_time", "positive_width", "overshoot_rising", "slope_at_mid", "pulse_area"}) {
        const Population all = whole.measure(quantity).population, a = first.measure(quantity).population,
                         b = second.measure(quantity).population;
        RC_ASSERT(all.size() == a.size() + b.size());
        for (std::size_t i = 0; i < all.size(); ++i) {
            const bool isFirst = i < a.size();
            const double value = isFirst ? a.value[i] : b.value[i - a.size()],
                         place = isFirst ? a.position[i] : b.position[i - a.size()] + double(pulses.quiet);
            near(value, all.value[i], 1e-9 * std::abs(all.value[i]) + 1e-15);
            near(place, all.position[i], 1e-8);
        }
    }
    // The pause that was cut through is nobody's.
    RC_ASSERT(whole.measure("negative_width").population.size() ==
              first.measure("negative_width").population.size() + second.measure("negative_width").population.size() +
                  1);
}

RC_GTEST_PROP(Properties, JoinedToItselfEverythingIsThereTwice, (const Pulses &pulses))
{
    std::vector<double> twice = pulses.volts;
    twice.insert(twice.end(), pulses.volts.begin(), pulses.volts.end());
    MemoryInputs once(pulses.volts), both(twice);
    RC_ASSERT(both.edges()->size() == 2 * once.edges()->size());
    for (const char *quantity : volts) near(meanOf(both, quantity), meanOf(once, quantity), 2e-3);
    const double rise = meanOf(once, "rise_time");
    for (const char *quantity : {"rise_time", "fall_time", "positive_width"})
        near(meanOf(both, quantity), meanOf(once, quantity), 0.02 * rise);
    RC_ASSERT(both.measure("rise_time").population.size() == 2 * once.measure("rise_time").population.size());
}
