#include "capture_reader.h"
#include "channel_source.h"
#include "signals.h"
#include "suggestion.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

constexpr double interval = 1e-9;

SourcePtr madeOf(std::size_t count, double noise, std::uint64_t seed, const std::function<double(double)> &value)
{
    test::Gaussian random(seed);
    std::vector<double> values(count);
    for (std::size_t i = 0; i < count; ++i) values[i] = value(double(i)) + noise * random();
    return makeMemorySource(std::move(values), interval);
}

double ramp(double along)
{
    return std::clamp(along, 0.0, 1.0);
}

/// 0 to 1 and back in `edge` samples each, high for `width` of every `period`.
double trapezoid(double at, double period, double width, double edge)
{
    const double t = std::fmod(at + 100 * period, period);
    return ramp((t - 5) / edge) - ramp((t - 5 - width) / edge);
}

Suggestion of(const SourcePtr &source)
{
    Progress progress;
    return suggestFor(*source, progress);
}

bool names(const Suggestion &made, const std::string &quantity)
{
    return std::any_of(made.rows.begin(), made.rows.end(), [&](const auto &row) { return row.quantity == quantity; });
}

} // namespace

TEST(Suggestion, TellsWhatASignalIsByItsPopulations)
{
    for (std::uint64_t seed = 1; seed <= 6; ++seed) {
        const double noise = 0.01 * double(seed % 3);
        const double period = 37.3 + 13 * double(seed);
        const auto sine = of(madeOf(60000, noise, seed,
                                    [&](double t) { return 0.3 + 0.5 * std::sin(2 * std::numbers::pi * t / period); }));
        EXPECT_EQ(sine.kind, "sine") << sine.reason;
        EXPECT_TRUE(names(sine, "counted_frequency"));
        const auto clock = of(
            madeOf(60000, noise, seed, [&](double t) { return trapezoid(t, period, 0.45 * period, 0.12 * period); }));
        EXPECT_EQ(clock.kind, "clock") << clock.reason;
        EXPECT_TRUE(names(clock, "duty_cycle"));

        test::DataSpec spec;
        spec.samplesPerUi = 8.3 + double(seed);
        spec.noise = noise;
        spec.randomJitter = 0.02;
        spec.seed = seed;
        spec.wander = [](double ui) { return 1.5 * std::sin(ui / 700); };
        const auto data = of(test::makeData(spec).source(interval));
        EXPECT_EQ(data.kind, "data") << data.reason;
        EXPECT_TRUE(names(data, "eye_height"));

        test::Gaussian random(seed);
        std::vector<double> starts;
        for (double at = 50; at < 50000; at += 400 + 300 * random.uniform()) starts.push_back(at);
        std::vector<double> values(52000);
        for (const double start : starts) {
            const double width = 60 + 97 * random.uniform();
            for (std::size_t i = std::size_t(start); i < std::size_t(start + width + 20); ++i)
                values[i] += ramp((double(i) - start) / 8) - ramp((double(i) - start - width) / 8);
        }
        for (double &v : values) v += noise * random();
        const auto pulses = of(makeMemorySource(values, interval));
        EXPECT_EQ(pulses.kind, "pulse train") << pulses.reason;
        EXPECT_TRUE(names(pulses, "rising_runts"));
    }
    const auto step = of(madeOf(5000, 0.005, 3, [](double t) { return ramp((t - 2000) / 12); }));
    EXPECT_EQ(step.kind, "step") << step.reason;
    EXPECT_TRUE(names(step, "settling_time") && names(step, "rise_time") && !names(step, "fall_time"));
    EXPECT_EQ(of(madeOf(1000, 0, 1, [](double) { return 2.0; })).kind, "no edges");
    EXPECT_EQ(of(madeOf(1, 0, 1, [](double) { return 2.0; })).kind, "no edges");
    EXPECT_EQ(of(madeOf(1000, 0, 1, [](double) { return NAN; })).kind, "no edges");
}

TEST(Suggestion, TellsWhatAPairIsByWhichEdgesLieBesideEachOther)
{
    Progress progress;
    test::DataSpec spec;
    spec.samplesPerUi = 11.7;
    spec.noise = 0.004;
    const test::Data data = test::makeData(spec);
    std::vector<double> turned = data.volts;
    for (double &v : turned) v = 0.9 - v;
    const SourcePtr p = data.source(interval), n = makeMemorySource(turned, interval);
    const Suggestion legs = suggestForPair(*p, *n, progress);
    EXPECT_EQ(legs.kind, "legs of a pair") << legs.reason;
    ASSERT_EQ(legs.rows.size(), 2u);
    EXPECT_EQ(legs.rows[0].edge, "rising");
    EXPECT_EQ(legs.rows[0].toEdge, "falling");

    const SourcePtr clock =
        madeOf(data.volts.size(), 0.004, 5, [&](double t) { return trapezoid(t, 2 * 11.7, 11.7, 3); });
    for (const bool clockFirst : {false, true}) {
        const Suggestion pair =
            clockFirst ? suggestForPair(*clock, *p, progress) : suggestForPair(*p, *clock, progress);
        EXPECT_EQ(pair.kind, "clock and data") << pair.reason;
        ASSERT_TRUE(names(pair, "setup_time"));
        EXPECT_EQ(pair.rows[0].turned, clockFirst); // rows are of the data, to the clock
    }
    const auto tone = [](double gain, double late) {
        return madeOf(80000, 0.002, std::uint64_t(gain),
                      [=](double t) { return gain * std::sin(2 * std::numbers::pi * (t - late) / 130); });
    };
    const Suggestion amplifier = suggestForPair(*tone(1, 0), *tone(20, 9), progress);
    EXPECT_EQ(amplifier.kind, "input and output") << amplifier.reason;
    EXPECT_TRUE(names(amplifier, "gain_db") && names(amplifier, "phase"));
    EXPECT_FALSE(amplifier.rows[0].turned);
    EXPECT_TRUE(suggestForPair(*tone(20, 9), *tone(1, 0), progress).rows[0].turned);
    const SourcePtr flat = madeOf(500, 0, 1, [](double) { return 1.0; });
    EXPECT_TRUE(suggestForPair(*flat, *tone(1, 0), progress).rows.empty());
}

TEST(Suggestion, KnowsTheDemosChannels)
{
    Progress progress;
    const auto column = [&](const char *file, std::size_t index) -> SourcePtr {
        ImportOptions options;
        options.sampleInterval = interval;
        const Capture capture = readCapture(std::string(FULVEX_DEMO) + "/captures/" + file, options, progress);
        return std::make_shared<ChannelSource>(capture.columns[index], capture.axis, 1, 0, 0);
    };
    EXPECT_EQ(of(column("gate-latch.npy", 0)).kind, "pulse train");
    const SourcePtr sea = column("hydrophone-amp.npy", 0), heard = column("hydrophone-amp.npy", 1);
    EXPECT_EQ(of(sea).kind, "sine");
    EXPECT_EQ(suggestForPair(*sea, *heard, progress).kind, "input and output");
    const SourcePtr p = column("camera-link.npy", 0), n = column("camera-link.npy", 1);
    EXPECT_EQ(of(p).kind, "data");
    EXPECT_EQ(suggestForPair(*p, *n, progress).kind, "legs of a pair");
}
