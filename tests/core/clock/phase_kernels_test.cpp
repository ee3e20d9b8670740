// The clock as phases, against the same sample by sample, by every instruction set.

#include "by_target.h"
#include "phase_kernels.h"
#include "some_phases.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>
#include <vector>

using namespace fulvex;

namespace {

struct Line {
    std::int32_t number;
    double from, step;
};

/// Straight lines that follow each other, some of one unit interval and some of many, from a place in the record on.
std::vector<Line> someLines(std::mt19937_64 &random, double place, double samples, double step)
{
    std::vector<Line> lines;
    std::int32_t number = 0;
    for (double at = place; at < place + samples;) {
        const double own = step * (1 + 0.02 * std::normal_distribution<double>()(random));
        lines.push_back({number, at, std::max(1.01, own)});
        const auto unitIntervals = std::int32_t(random() % 4 ? 1 + random() % 3 : 1 + random() % 40);
        number += unitIntervals;
        at += unitIntervals * lines.back().step;
    }
    return lines;
}

/// Unit intervals behind the first boundary.
double plainPhase(const std::vector<Line> &lines, double position)
{
    std::size_t k = 0;
    while (k + 1 < lines.size() && lines[k + 1].from <= position) ++k;
    return lines[k].number + (position - lines[k].from) / lines[k].step;
}

std::vector<std::uint32_t> laid(const std::vector<Line> &lines, double origin, std::size_t samples)
{
    std::vector<std::int32_t> number;
    std::vector<double> from, step;
    for (const Line &line : lines) number.push_back(line.number), from.push_back(line.from), step.push_back(line.step);
    from.resize(from.size() + ClockLines::padding, 1e9);
    step.resize(step.size() + ClockLines::padding, 1);
    std::vector<std::uint32_t> phases(samples + lanePadding + 64);
    layPhases({number, from.data(), step.data(), origin}, samples, phases.data());
    return phases;
}

} // namespace

TEST(PhaseKernels, PhasesAreThoseOfTheLines)
{
    test::byEachTarget([] {
        std::mt19937_64 random(11);
        for (const double step : {1.1, 2.3, 4.0, 12.7, 40.2, 3000.0}) {
            for (const double place : {0.0, 1e3 + 0.37, 4e7 + 0.9}) {
                const std::vector<Line> lines = someLines(random, place, 5000, step);
                const double origin = std::ceil(place);
                const auto phases = laid(lines, origin, 5000);
                for (std::size_t i = 0; i < 5000; ++i) {
                    // As whole numbers wrap. A phase is a unit of 2^-28 off for a step's rounding over 16 samples,
                    // and half of one where it begins; positions far into a record have fewer digits.
                    const double exact = plainPhase(lines, origin + double(i)) * ClockPhase::unitInterval;
                    const auto off = std::int32_t(phases[i] - std::uint32_t(std::int64_t(std::llround(exact))));
                    ASSERT_LE(std::abs(off), 10 + place * 1e-15 * ClockPhase::unitInterval) << i << " of " << step;
                }
            }
        }
    });
}

TEST(PhaseKernels, WordsAnswerForEachPhase)
{
    test::byEachTarget([] {
        std::mt19937_64 random(12);
        for (const std::size_t words : {1, 2, 5}) {
            const std::vector<std::uint32_t> phases = test::somePhases(random, 64 * words);
            std::vector<std::uint64_t> middles(words), behind(words), centre(words), edge(words);
            phaseWords(phases.data(), words, {middles.data(), behind.data(), centre.data(), edge.data()});
            for (std::size_t i = 0; i < 64 * words; ++i) {
                const auto bit = [&](const auto &row) { return bool(row[i / 64] >> (i % 64) & 1); };
                const auto rounded = [](std::uint32_t phase) { return (phase + ClockPhase::half) >> ClockPhase::bits; };
                const double phase = double(phases[i] & ClockPhase::within) / ClockPhase::unitInterval;
                EXPECT_EQ(bit(middles), rounded(phases[i]) != rounded(phases[i + 1]));
                EXPECT_EQ(bit(behind), phase >= 0.5);
                EXPECT_EQ(bit(edge), phase < 0.25 || phase >= 0.75);
                if (std::abs(phase - 0.4) > 1e-8 && std::abs(phase - 0.6) > 1e-8) { // which no such number is
                    EXPECT_EQ(bit(centre), phase >= 0.4 && phase < 0.6) << phase;
                }
            }
        }
    });
}
