// frequency, period and phase over time; am and fm of a carrier.

#include "filter_cascade.h"
#include "formulas.h"
#include "signals.h"
#include "turn.h"

#include <cmath>
#include <functional>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// A sine of `cycles` so far at each sample.
std::vector<double> clock(int count, const std::function<double(double)> &cycles, double amplitude = 1)
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i) values.push_back(amplitude * std::sin(turn * cycles(i)));
    return values;
}

} // namespace

/// A linear sweep: the mean frequency of a period is that at its middle, and straight lines join them.
TEST(Frequency, OfASweepIsItsStraightLine)
{
    const double interval = 1e-9, from = 0.01, by = 1e-7; // cycles a sample, more for each
    const auto values = clock(100000, [&](double i) { return from * i + by * i * i / 2; });
    const auto frequency = test::madeOf("frequency(x)", values, interval),
               period = test::madeOf("period(x)", values, interval);
    int told = 0;
    for (int i = 150; i < 99900; ++i) {
        const double truth = (from + by * i) / interval;
        if (std::isnan(frequency[std::size_t(i)])) continue;
        ++told;
        // A passage is found to 1e-5 of a sample; the middle of a period of n samples lies by n³ by / 24 from its
        // phase's.
        const double relative = 3e-5 * (from + by * i) + 1e-5;
        ASSERT_NEAR(frequency[std::size_t(i)], truth, relative * truth) << i;
        ASSERT_NEAR(period[std::size_t(i)], 1 / truth, 2 * relative / truth) << i;
    }
    EXPECT_GT(told, 99600);
    EXPECT_TRUE(std::isnan(frequency[0])); // before the first passage, which lies at 0 or just behind
    EXPECT_TRUE(std::isnan(frequency[99999]));
}

/// Phase modulation, whatever the rate: against the line of least squares, and against the carrier that is named.
TEST(Phase, IsThatOfTheModulation)
{
    for (const double cycle : {7.3, 40.0, 333.3}) { // samples
        const double swing = 0.3, rate = 1 / (cycle * 61.7);
        const int count = int(cycle * 2000);
        const auto phaseAt = [&](double i) { return swing * std::sin(turn * rate * i); };
        const auto values = clock(count, [&](double i) { return i / cycle + 0.2 + phaseAt(i) / turn; });
        const double deviation = 1 / cycle * 1.01; // of another carrier: its phase runs away in a straight line
        for (const std::string &formula : {std::string("phase(x)"), "phase(x, 1 / " + std::to_string(cycle) + ")"}) {
            const auto found = test::madeOf(formula, values);
            for (int i = int(3 * cycle); i < count - int(3 * cycle); ++i) {
                // Between passages lies a straight line: (w cycle)² / 8 of the swing. The line of least squares and the
                // mean take what the record's ends leave of a swing: one part in its 32 swings. Six digits of the
                // cycle.
                const double straight = swing * std::pow(turn / 61.7, 2) / 8 + swing / 32 * 1.3 + 2000 * 1e-6;
                ASSERT_NEAR(found[std::size_t(i)], phaseAt(i), straight + turn * 1e-3 / cycle) << formula << " " << i;
            }
        }
        const auto running = test::madeOf("phase(x, " + std::to_string(deviation) + ")", values);
        const double slope = (running[std::size_t(count * 3 / 4)] - running[std::size_t(count / 4)]) / (count / 2);
        EXPECT_NEAR(slope, turn * (1 / cycle - deviation), 0.1 * turn / cycle * 0.01 + 4 * swing / count);
    }
}

/// Behind a gap a new piece begins; phases go on by the whole cycles that must lie between.
TEST(Cycles, DoNotCrossGaps)
{
    auto values = clock(4000, [](double i) { return i / 20 + 0.1; });
    for (std::size_t i = 1000; i < 1107; ++i) values[i] = NAN;
    const auto period = test::madeOf("period(x)", values), phase = test::madeOf("phase(x)", values);
    for (std::size_t i = 25; i < 3970; ++i) {
        const bool between = i > 975 && i < 1130; // no whole period
        if (!between) {
            ASSERT_NEAR(period[i], 20, 1e-3) << i;
            ASSERT_NEAR(phase[i], 0, 1e-3) << i;
        }
        if (i >= 1000 && i < 1107) {
            ASSERT_TRUE(std::isnan(period[i]) && std::isnan(phase[i])) << i;
        }
    }
}

/// A tone's modulation comes through the filter's own gain at it, forward and backward; without a phase.
TEST(Demodulation, GivesTheToneThatModulates)
{
    struct Case {
        double carrier, bandwidth, tone;
    };
    for (const Case &of : {Case{0.1, 0.02, 0.003}, {0.31, 0.05, 0.02}, {0.01, 0.002, 0.001}}) {
        const FilterCascade filter =
            FilterCascade::made({FilterCascade::Kind::bessel, FilterPass::low, 4, of.bandwidth, 0, true});
        const double gain = std::norm(filter.response(of.tone)); // twice
        std::vector<double> am, fm;
        const double depth = 0.4, deviation = 0.02 * of.tone; // narrow: its sidebands are the tone's alone
        for (int i = 0; i < 60000; ++i) {
            am.push_back(2 * (1 + depth * std::cos(turn * of.tone * i)) * std::cos(turn * of.carrier * i + 0.7));
            fm.push_back(3 *
                         std::cos(turn * of.carrier * i + deviation / of.tone * std::sin(turn * of.tone * i) + 0.4));
        }
        const std::string settings = ", " + std::to_string(of.carrier) + ", " + std::to_string(of.bandwidth) + ")";
        const auto amplitude = test::madeOf("am(x" + settings, am), above = test::madeOf("fm(x" + settings, fm, 1);
        const double beyond =
            std::norm(filter.response(std::min(2 * of.carrier, 1 - 2 * of.carrier))); // of the carrier's double
        for (int i = 10000; i < 50000; ++i) {
            ASSERT_NEAR(amplitude[std::size_t(i)], 2 * (1 + gain * depth * std::cos(turn * of.tone * i)),
                        2 * (2 * beyond + 1e-6))
                << i;
            // Central differences: sinc of the tone; the second sideband, (deviation / tone)² / 8 of the carrier.
            ASSERT_NEAR(above[std::size_t(i)], gain * deviation * std::cos(turn * of.tone * i),
                        deviation * (std::pow(turn * of.tone, 2) / 6 + 1e-3) + 2 * of.carrier * beyond)
                << of.carrier << " " << i;
        }
    }
}

TEST(Cycles, SayWhatIsWrong)
{
    test::expectRefused({{"frequency(x)", "character 1", "once"},
                         {"period(0 * x)", "character 1", "never"},
                         {"phase(x, 1)", "character 1", "once"},
                         {"am(x, 0.6, 0.1)", "character 1", "a carrier at"},
                         {"fm(x, 0.1, 0.2)", "character 1", "a bandwidth of"},
                         {"fm(x, 0.1, 0)", "character 1", "a bandwidth of"}},
                        [](const std::string &formula) {
                            test::madeOf(formula, {0, 0, 1, 1, 1});
                        });
}
