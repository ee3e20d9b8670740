// From moment to moment: a sweep is where it is, a burst when it is.

#include "band_moments.h"
#include "signals.h"
#include "spectrogram.h"
#include "turn.h"

#include <cmath>
#include <gtest/gtest.h>
#include <oneapi/tbb/global_control.h>

using namespace fulvex;

namespace {

SourcePtr sweep(int count, double from, double to) ///< cycles a sample
{
    std::vector<double> values;
    for (int i = 0; i < count; ++i)
        values.push_back(std::sin(turn * (from * i + (to - from) * double(i) * i / (2.0 * count))));
    return makeMemorySource(std::move(values), 1e-6);
}

SpectrogramRule ruleOf(std::size_t length, std::size_t columns)
{
    SpectrogramRule rule;
    rule.length = length;
    rule.mostColumns = columns;
    return rule;
}

} // namespace

/// In each column the sweep's frequency at its middle, to a line and what it moves through meanwhile.
TEST(Spectrogram, FollowsASweep)
{
    constexpr int count = 1 << 18;
    const SourcePtr source = sweep(count, 0.05, 0.4);
    for (const std::size_t columns : {std::size_t(17), std::size_t(200), std::size_t(4000)}) {
        Progress progress;
        const Spectrogram gram = spectrogram(*source, {0, count}, ruleOf(512, columns), progress);
        ASSERT_EQ(gram.lines, 257u);
        EXPECT_EQ(gram.columns, std::min<std::size_t>(columns, count / 256 - 1));
        for (std::size_t column = 0; column < gram.columns; ++column) {
            const float *lines = &gram.densities[column * gram.lines];
            const auto highest = std::max_element(lines, lines + gram.lines) - lines;
            const double middle = gram.first + (double(column) + 0.5) * gram.each + 128;
            const double expected = 0.05 + 0.35 * middle / count, moves = 0.35 * gram.each / count;
            EXPECT_NEAR(double(highest) / 512, expected, 1.5 / 512 + moves / 2) << column << " of " << gram.columns;
        }
        double power = 0; // of each column together: a sine's
        for (std::size_t line = 0; line < gram.lines; ++line)
            power += double(gram.at(gram.columns / 2, line)) * gram.step;
        EXPECT_NEAR(power, 0.5, 0.01);
    }
}

/// Few segments a column say of what share they are; gaps blank a column alone; one core gives the same bits.
TEST(Spectrogram, SaysWhatItLookedAt)
{
    test::Gaussian random(4);
    std::vector<double> values;
    for (int i = 0; i < 1 << 17; ++i) values.push_back(random());
    for (int i = 40000; i < 44000; ++i) values[std::size_t(i)] = NAN;
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    SpectrogramRule rule = ruleOf(256, 128);
    const Spectrogram all = spectrogram(*source, {0, 1 << 17}, rule, progress);
    EXPECT_EQ(all.share, 1);
    rule.mostInAColumn = 1;
    const Spectrogram few = spectrogram(*source, {0, 1 << 17}, rule, progress);
    EXPECT_NEAR(few.share, 128.0 / 1023, 1e-9);
    for (std::size_t column = 0; column < 128; ++column) {
        const double from = all.first + double(column) * all.each, to = from + all.each;
        const bool within = from > 40000 && to < 44000 - 512;
        if (within) {
            EXPECT_TRUE(std::isnan(all.at(column, 9)));
        }
        if (to < 39000 || from > 45000) {
            EXPECT_FALSE(std::isnan(all.at(column, 9)) || std::isnan(few.at(column, 9)));
        }
    }
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    rule.mostInAColumn = 1000;
    const Spectrogram again = spectrogram(*source, {0, 1 << 17}, rule, progress);
    EXPECT_EQ(std::memcmp(again.densities.data(), all.densities.data(), all.densities.size() * sizeof(float)), 0);
    EXPECT_EQ(spectrogram(*source, {0, 100}, rule, progress).columns, 0u);
}

/// Three bursts of one frequency in noise, and a louder one of another: the band's are found, loudest first, and how
/// loud: a sine's rms.
TEST(BandMoments, AreWhereTheBandIsStrongest)
{
    struct Burst {
        int at, lasts;
        double frequency, amplitude;
    };
    const Burst bursts[] = {
        {20000, 4000, 0.2, 1}, {90000, 4000, 0.2, 3}, {150000, 4000, 0.2, 2}, {200000, 4000, 0.31, 9}};
    for (const std::uint64_t seed : {1u, 2u, 3u}) {
        test::Gaussian random(seed);
        std::vector<double> values;
        for (int i = 0; i < 250000; ++i) values.push_back(0.1 * random());
        for (const Burst &burst : bursts)
            for (int i = burst.at; i < burst.at + burst.lasts; ++i)
                values[std::size_t(i)] += burst.amplitude * std::sin(turn * burst.frequency * i);
        const SourcePtr source = makeMemorySource(values, 1e-9);
        Progress progress;
        const BandMoments found = bandMoments(*source, {0, 250000}, 0.19e9, 0.21e9, 40, progress);
        ASSERT_GE(found.strongest.size(), 10u);
        const auto middle = [](const BandMoment &m) { return double(m.samples.first + m.samples.last) / 2; };
        EXPECT_NEAR(middle(found.strongest[0]), 92000, 2100);
        EXPECT_NEAR(found.strongest[0].rms, 3 / std::sqrt(2.0), 0.02);
        const std::size_t inOne = 4000 / std::size_t(found.strongest[0].samples.size()); // spans that fit in a burst
        EXPECT_NEAR(middle(found.strongest[inOne + 3]), 152000, 2600);
        for (std::size_t i = 1; i < found.strongest.size(); ++i)
            EXPECT_LE(found.strongest[i].rms, found.strongest[i - 1].rms);
    }
    Progress progress;
    EXPECT_EQ(bandMoments(*makeMemorySource({1, 2}, 1), {0, 2}, 0.1, 0.2, 3, progress).count, 0);
    EXPECT_EQ(bandMoments(*makeMemorySource(std::vector<double>(1000, NAN), 1), {0, 1000}, 0.1, 0.2, 3, progress).count,
              0);
}
