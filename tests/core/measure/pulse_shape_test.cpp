#include "bursts.h"
#include "edge_finder.h"
#include "pulse_shape.h"
#include "signals.h"

#include <cmath>
#include <functional>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

constexpr double interval = 1e-9;

/// A pulse train: `response(t)` of a step at 0 (t in samples), added up at edges that rise and fall by turns.
struct Train {
    std::vector<double> edges; ///< samples, where the steps begin; the first rises
    double low = 0, amplitude = 1, noise = 0;
    bool inverted = false;
    std::int64_t count = 0;
    std::function<double(double)> response;
    SourcePtr source(std::uint64_t seed = 1) const
    {
        test::Gaussian random(seed);
        std::vector<double> values(static_cast<std::size_t>(count));
        for (std::size_t i = 0; i < values.size(); ++i) {
            double level = 0;
            for (std::size_t k = 0; k < edges.size(); ++k)
                if (double(i) > edges[k]) level += (k % 2 ? -1 : 1) * response(double(i) - edges[k]);
            if (inverted) level = 1 - level;
            values[i] = low + amplitude * level + noise * random();
        }
        return makeMemorySource(std::move(values), interval);
    }
};

/// Where a rising function of time passes a level, by halving.
double passageOf(const std::function<double(double)> &f, double level, double from, double to)
{
    for (int i = 0; i < 80; ++i) {
        const double middle = (from + to) / 2;
        (f(middle) < level ? from : to) = middle;
    }
    return from;
}

ReferenceLevels levelsOf(double low, double amplitude)
{
    ReferenceLevels levels;
    levels.states = {low, low + amplitude};
    levels.low = low + 0.1 * amplitude;
    levels.mid = low + 0.5 * amplitude;
    levels.high = low + 0.9 * amplitude;
    levels.hysteresis = 0.1 * amplitude;
    return levels;
}

/// The step response of a second order of damping z; `samples` are what it takes to its first peak.
struct Ringing {
    double z, samples;
    double damped() const { return std::numbers::pi / samples; }
    double natural() const { return damped() / std::sqrt(1 - z * z); }
    double overshoot() const { return std::exp(-std::numbers::pi * z / std::sqrt(1 - z * z)); }
    double operator()(double t) const
    {
        const double w = damped(), a = z * natural();
        return 1 - std::exp(-a * t) * (std::cos(w * t) + a / w * std::sin(w * t));
    }
};

struct Found {
    SourcePtr source;
    std::shared_ptr<const EdgeList> edges;
    std::shared_ptr<const Transitions> transitions;
    ReferenceLevels levels;
    SampleRange range;
};

Found look(const Train &train, std::uint64_t seed = 1)
{
    Progress progress;
    Found found;
    found.source = train.source(seed);
    found.levels = levelsOf(train.low, train.amplitude);
    found.range = {0, train.count};
    found.edges = std::make_shared<const EdgeList>(
        findEdges(*found.source, found.range, found.levels, EdgeInterpolation::automatic, progress));
    found.transitions = std::make_shared<const Transitions>(
        findTransitions(*found.source, found.range, *found.edges, found.levels, EdgeChoice::both, progress));
    return found;
}

Train ringingTrain(const Ringing &ringing, int pulses)
{
    Train train;
    const double width = 24 * ringing.samples; // exp(-24 pi z / sqrt(1 - z^2)): below 1e-12 for z of 0.35 and more
    for (int i = 0; i < 2 * pulses; ++i) train.edges.push_back(width * (i + 0.5) + 0.37 * i);
    train.count = std::int64_t(width * (2 * pulses + 0.5));
    train.response = ringing;
    return train;
}

} // namespace

/// Truth: exp(-pi z / sqrt(1 - z^2)) of the amplitude. The farthest sample lies half an interval off the peak at most,
/// where the response is lower by (w / 2)^2 / 2 of the overshoot, w being the ringing's frequency in radians a sample.
/// Noise raises the largest of some samples by up to 4 sigma; the mean of 40 of them is above the truth then.
TEST(Aberrations, OvershootOfASecondOrderIsKnownByItsDamping)
{
    for (const double z : {0.35, 0.5}) {
        for (const double samples : {4.3, 11.7, 60.9}) {
            for (const double noise : {0.0, 2e-4}) {
                for (const bool inverted : {false, true}) {
                    Train train = ringingTrain({z, samples}, 20);
                    train.low = -3.3, train.amplitude = 0.02, train.noise = noise * train.amplitude;
                    train.inverted = inverted;
                    const Found found = look(train);
                    Progress progress;
                    const Aberrations beside = findAberrations(*found.source, found.range, *found.edges,
                                                               *found.transitions, found.levels, progress);
                    ASSERT_EQ(beside.overshoot.size(), 40u) << z << " " << samples;
                    const Population over = aberrationsOf(found.transitions, found.source->axis(),
                                                          std::make_shared<const RawVector<double>>(beside.overshoot));
                    const Population before = aberrationsOf(found.transitions, found.source->axis(),
                                                            std::make_shared<const RawVector<double>>(beside.preshoot));
                    const double truth = 100 * Ringing{z, samples}.overshoot();
                    const double w = std::numbers::pi / samples, low = truth * w * w / 8, high = 400 * noise;
                    const Statistics overs = statisticsOf(over), befores = statisticsOf(before);
                    EXPECT_EQ(overs.count, 40);
                    EXPECT_GE(*overs.mean, truth - low - 100 * noise - 1e-6) << z << " " << samples << " " << noise;
                    EXPECT_LE(*overs.mean, truth + high + 1e-6) << z << " " << samples << " " << noise;
                    EXPECT_GE(*befores.mean, -1e-6);
                    EXPECT_LE(*befores.max, 500 * noise + 1e-6); // nothing of the ringing before
                }
            }
        }
    }
}

/// A pulse so short that its next edge cuts the search: half-way to it, never its own other side.
TEST(Aberrations, NeverReachOverToTheNextTransition)
{
    Train train;
    train.response = [](double t) { return std::min(1.0, t / 10); };
    for (int i = 0; i < 20; ++i) train.edges.push_back(40.3 + 14 * i); // ten samples up, four of rest
    train.count = 400;
    const Found found = look(train);
    Progress progress;
    const Aberrations beside =
        findAberrations(*found.source, found.range, *found.edges, *found.transitions, found.levels, progress);
    for (std::size_t i = 0; i < beside.overshoot.size(); ++i) {
        EXPECT_NEAR(beside.overshoot[i], 0, 1e-9);
        EXPECT_NEAR(beside.preshoot[i], 0, 1e-9);
    }
}

/// Truth: the last time that the response leaves the band, from its own formula; an instant on a straight line is off
/// by |y''| / 8 |y'| samples at most.
TEST(SettlingTime, OfASecondOrderIsItsLastWayIntoTheBand)
{
    for (const double z : {0.35, 0.5}) {
        for (const double samples : {6.3, 31.7}) {
            for (const double band : {2.0, 5.0}) {
                const Ringing ringing{z, samples};
                Train train = ringingTrain(ringing, 12);
                train.low = 1.7, train.amplitude = 2.4;
                const Found found = look(train);
                double last = 0; // fine enough for the entry, refined below
                const double step = samples / 1000;
                for (double t = 0; t < 20 * samples; t += step)
                    if (std::abs(ringing(t) - 1) > band / 100) last = t;
                const double was = ringing(last) - 1;
                const double entry =
                    passageOf([&](double t) { return -std::abs(ringing(t) - 1); }, -band / 100, last, last + step);
                const double slope = std::abs(ringing(entry + 1e-4) - ringing(entry - 1e-4)) / 2e-4;
                const double w = ringing.natural(), bend = w * w * (std::abs(was) + 2 * z * slope / w);
                const double middle = passageOf(ringing, 0.5, 0, samples);
                for (const EdgeChoice choice : {EdgeChoice::rising, EdgeChoice::falling}) {
                    Progress progress;
                    const Settling settling =
                        settlingTimes(*found.source, found.range, *found.edges, found.levels, band, choice, progress);
                    EXPECT_EQ(settling.unsettled, 0u);
                    ASSERT_EQ(settling.population.size(), 12u);
                    for (std::size_t i = 0; i < 12; ++i)
                        EXPECT_NEAR(settling.population.span[i], entry - middle, bend / slope / 8 + 2e-2)
                            << z << " " << samples << " " << band << " " << i;
                }
            }
        }
    }
}

TEST(SettlingTime, WhatNeverSettlesIsCountedAndLeftOut)
{
    Train train = ringingTrain({0.05, 9.1}, 4); // rings for hundreds of samples
    const Found found = look(train);
    Progress progress;
    const Settling settling =
        settlingTimes(*found.source, found.range, *found.edges, found.levels, 0.5, EdgeChoice::rising, progress);
    EXPECT_EQ(settling.population.size(), 0u);
    EXPECT_GE(settling.unsettled, 4u);
}

/// A gap ends the search as the record's end does.
TEST(SettlingTime, EndsAtAGap)
{
    std::vector<double> values(400, 0.0);
    for (std::size_t i = 100; i < 400; ++i) values[i] = i < 110 ? 1.2 : 1.0; // over for ten samples
    values[200] = NAN;
    for (std::size_t i = 201; i < 400; ++i) values[i] = 7;
    Progress progress;
    const SourcePtr source = makeMemorySource(values, interval);
    const ReferenceLevels levels = levelsOf(0, 1);
    const EdgeList edges = findEdges(*source, {0, 400}, levels, EdgeInterpolation::linear, progress);
    const Settling settling = settlingTimes(*source, {0, 400}, edges, levels, 2, EdgeChoice::rising, progress);
    ASSERT_EQ(settling.population.size(), 1u);
    EXPECT_NEAR(settling.population.span[0], 109.9 - (99 + 0.5 / 1.2), 1e-9); // 1.2 to 1.0 passes 1.02 at 0.9
}

/// Half sines: the peak lies a third of the pulse behind the mid crossing. The parabola through three samples of a sine
/// is off by (pi / w)^2 / 24 of a sample at most. The mid crossing, by sinc, lies w / 6 behind a kink, where a sinc is
/// off by a tenth of the kink's slope over the distance squared.
TEST(PeakTime, OfAHalfSineIsAThirdOfIt)
{
    for (const double width : {11.3, 47.7, 300.1}) {
        std::vector<double> values(std::size_t(width * 30), -0.2);
        const double period = 2.37 * width;
        for (std::size_t i = 0; i < values.size(); ++i) {
            const double t = std::fmod(double(i) + 0.6 * period, period);
            if (t < width) values[i] += 1.5 * std::sin(std::numbers::pi * t / width);
        }
        Progress progress;
        const SourcePtr source = makeMemorySource(values, interval);
        const ReferenceLevels levels = levelsOf(-0.2, 1.5);
        const EdgeList edges =
            findEdges(*source, {0, std::int64_t(values.size())}, levels, EdgeInterpolation::sinc, progress);
        const Population found = peakTimes(*source, edges, EdgeChoice::rising, progress);
        ASSERT_GT(found.size(), 9u);
        for (std::size_t i = 0; i < found.size(); ++i)
            EXPECT_NEAR(found.span[i], width / 3,
                        0.005 + std::pow(std::numbers::pi / width, 2) / 24 + 0.115 * std::pow(6 / width, 2))
                << width;
    }
}

/// Trapezoids: amplitude times the width at half height, less the two corners below 10 % (a twentieth of a tenth of
/// each ramp) and with nothing below them. Trapezoids through samples lose a slope's change times a sample squared over
/// 8 at each of the six corners.
TEST(PulseArea, OfATrapezoidIsItsWidthTimesItsHeight)
{
    for (const double ramp : {8.3, 40.9}) {
        for (const bool inverted : {false, true}) {
            Train train;
            train.response = [ramp](double t) { return std::min(1.0, t / ramp); };
            for (int i = 0; i < 24; ++i) train.edges.push_back(90.3 + 151.7 * i);
            train.count = 4000;
            train.low = -0.7, train.amplitude = 3.1, train.inverted = inverted;
            const Found found = look(train);
            Progress progress;
            for (const EdgeChoice choice : {EdgeChoice::rising, EdgeChoice::falling}) {
                const Population areas =
                    pulseAreas(*found.source, *found.edges, *found.transitions, found.levels, choice, progress);
                ASSERT_GE(areas.size(), 11u);
                const double truth = 3.1 * (151.7 - 2 * 0.5 * 0.1 * 0.1 * ramp) * interval;
                const double tolerance = 6 * 3.1 / ramp / 8 * interval;
                const double sign = choice == EdgeChoice::rising ? 1 : -1;
                for (std::size_t i = 0; i < areas.size(); ++i)
                    EXPECT_NEAR(areas.value[i], sign * truth, tolerance) << ramp << " " << inverted;
            }
        }
    }
}

/// A sine's slope at its middle is amplitude times angular frequency. A straight line between samples loses up to
/// (w dt)^2 / 24 of it when centred and (w dt)^2 / 6 beside. On the sinc's quartic a hundredth of that is left: the
/// fifth derivative times the nodes' product, (w / 4)^4 / 5 at most; the kernel's own 1e-4 of the amplitude, over a
/// quarter.
TEST(SlopeAtMid, OfASineIsItsAngularFrequency)
{
    for (const double perPeriod : {5.3, 13.1, 97.3}) {
        const double w = 2 * std::numbers::pi / perPeriod;
        std::vector<double> values(20000);
        for (std::size_t i = 0; i < values.size(); ++i) values[i] = 0.5 + 0.5 * std::sin(w * double(i) + 0.3);
        Progress progress;
        const SourcePtr source = makeMemorySource(values, interval);
        const ReferenceLevels levels = levelsOf(0, 1);
        for (const auto how : {EdgeInterpolation::linear, EdgeInterpolation::sinc}) {
            const auto edges = std::make_shared<const EdgeList>(findEdges(*source, {0, 20000}, levels, how, progress));
            const Population slopes = slopesAtMid(*source, edges, EdgeChoice::falling, 1, progress);
            ASSERT_GT(slopes.size(), 100u);
            const bool sinc = how == EdgeInterpolation::sinc;
            const double truth = -0.5 * w / interval, share = sinc ? std::pow(w / 4, 4) / 5 + 4e-4 / w : w * w / 6;
            // At the record's ends the kernel has no room.
            for (std::size_t i = 6; i + 6 < slopes.size(); ++i)
                ASSERT_NEAR(slopes.value[i], truth, share * std::abs(truth)) << perPeriod << " " << sinc;
        }
    }
}

/// A ramp's slope in noise of a quarter of what it rises from sample to sample, or more than that. The cubic's four
/// samples leave sqrt(2) (4/3) noise / (2 reach - 1) of each, 600 edges a 24th of that; between the neighbours of a
/// crossing alone it is too high by twice the square of noise over slope.
TEST(SlopeAtMid, IsNotThatOfTheNoise)
{
    constexpr double ramp = 40, noise = 0.01;
    constexpr int pulses = 600, period = 200;
    test::Gaussian random(23);
    std::vector<double> values(pulses * period);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const double at = double(i % period) - 0.37 * double(i / period % 7);
        values[i] = std::clamp((at - 30) / ramp, 0.0, 1.0) - std::clamp((at - 120) / ramp, 0.0, 1.0) + noise * random();
    }
    Progress progress;
    const SourcePtr source = makeMemorySource(values, interval);
    const auto edges = std::make_shared<const EdgeList>(
        findEdges(*source, {0, std::int64_t(values.size())}, levelsOf(0, 1), EdgeInterpolation::linear, progress));
    const double truth = 1 / ramp, each = std::sqrt(2.0) * 4 / 3 * noise;
    for (const std::int64_t reach : {3, 5}) {
        const Statistics found = statisticsOf(slopesAtMid(*source, edges, EdgeChoice::rising, reach, progress));
        ASSERT_EQ(found.count, pulses);
        EXPECT_NEAR(*found.mean * interval, truth, 4 * each / double(2 * reach - 1) / std::sqrt(pulses)) << reach;
    }
    const Statistics near = statisticsOf(slopesAtMid(*source, edges, EdgeChoice::rising, 1, progress));
    EXPECT_GT(*near.mean * interval, truth * (1 + std::pow(noise / truth, 2)));
}

/// Runts of known heights at known places between whole pulses, from both states; noise well below the levels.
TEST(Runts, AreCountedWithTheirHeightsAndPlaces)
{
    for (const double noise : {0.0, 0.005}) {
        std::vector<double> values;
        std::vector<double> up, down; // where each runt begins
        test::Gaussian random(7);
        const auto hold = [&](double level, int samples) { values.insert(values.end(), std::size_t(samples), level); };
        for (int i = 0; i < 50; ++i) {
            hold(0, 40);
            if (i % 3 == 0) up.push_back(double(values.size())), hold(0.35, 12), hold(0, 30);
            hold(1, 50);
            if (i % 5 == 0) down.push_back(double(values.size())), hold(0.6, 9), hold(1, 30);
        }
        hold(0, 40);
        for (double &v : values) v = -0.4 + 2 * v + 2 * noise * random();
        Progress progress;
        const auto count = std::int64_t(values.size());
        const SourcePtr source = makeMemorySource(values, interval);
        const ReferenceLevels levels = levelsOf(-0.4, 2);
        const EdgeList edges = findEdges(*source, {0, count}, levels, EdgeInterpolation::linear, progress);
        EXPECT_EQ(edges.size(), 100u);
        const Population rising = runtPulses(*source, {0, count}, edges, levels, true, progress);
        const Population falling = runtPulses(*source, {0, count}, edges, levels, false, progress);
        ASSERT_EQ(rising.size(), up.size());
        ASSERT_EQ(falling.size(), down.size());
        for (std::size_t i = 0; i < up.size(); ++i) {
            EXPECT_NEAR(rising.position[i], up[i], 1);
            EXPECT_NEAR(rising.value[i], 35 + 165 * noise, 400 * noise + 1e-9); // the largest of 12
        }
        for (std::size_t i = 0; i < down.size(); ++i)
            EXPECT_NEAR(falling.value[i], 40 + 150 * noise, 400 * noise + 1e-9);
    }
}

namespace {

EdgeList edgesAt(const std::vector<double> &positions)
{
    EdgeList edges;
    for (std::size_t i = 0; i < positions.size(); ++i) {
        edges.positions.push_back(positions[i]);
        edges.flags.push_back(i % 2 ? 0 : EdgeList::rising);
    }
    return edges;
}

} // namespace

TEST(Bursts, AreToldByTheQuietAroundThem)
{
    std::vector<double> positions;
    for (int burst = 0; burst < 5; ++burst)
        for (int edge = 0; edge < 6 + 2 * burst; ++edge) positions.push_back(500.25 + 1000 * burst + 10 * edge);
    const EdgeList edges = edgesAt(positions);
    const TimeAxis axis{0, interval, 5200};
    const Bursts bursts = findBursts(edges, axis, {0, 5200}, 200);
    ASSERT_EQ(bursts.width.size(), 5u);
    for (std::size_t i = 0; i < 5; ++i) {
        EXPECT_NEAR(bursts.width.value[i], (50 + 20 * double(i)) * interval, 1e-18);
        EXPECT_EQ(bursts.pulses.value[i], 3 + double(i));
        EXPECT_EQ(bursts.width.position[i], 500.25 + 1000 * double(i));
    }
}

/// What may go on beyond the record or a gap does not count; neither does an edge alone.
TEST(Bursts, ThatMayGoOnDoNotCount)
{
    const TimeAxis axis{0, interval, 1000};
    std::vector<double> positions{50, 60, 70, 80, 500, 510, 900, 910};
    EXPECT_EQ(findBursts(edgesAt(positions), axis, {0, 1000}, 100).width.size(), 1u); // the middle one
    EXPECT_EQ(findBursts(edgesAt(positions), axis, {0, 1000}, 50).width.size(), 3u);
    EXPECT_EQ(findBursts(edgesAt({300, 600}), axis, {0, 1000}, 100).width.size(), 0u);
    EdgeList broken = edgesAt({300, 310, 320, 330, 600, 610});
    broken.flags[2] |= EdgeList::afterGap;
    ASSERT_EQ(findBursts(broken, axis, {0, 1000}, 100).width.size(), 1u);
    EXPECT_EQ(findBursts(broken, axis, {0, 1000}, 100).width.position[0], 600);
    EXPECT_EQ(findBursts({}, axis, {0, 1000}, 100).width.size(), 0u);
}
