// Which symbol lies between samples where these leave no doubt, against the same sample by sample.

#include "by_target.h"
#include "clear_symbols.h"
#include "code_scale.h"
#include "phase_kernels.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <random>

using namespace fulvex;

namespace {

using Rows = std::vector<std::vector<std::uint64_t>>;

struct Clear {
    Rows atLeast, below;
    bool is(const Rows &rows, std::size_t t, std::size_t i) const { return rows[t][i / 64] >> (i % 64) & 1; }
};

template <typename Sample, typename Threshold>
Clear found(const std::vector<Sample> &samples, const std::vector<Threshold> &thresholds, bool bandLimited)
{
    const std::size_t words = (samples.size() - lanePadding) / 64;
    Clear clear{Rows(thresholds.size(), std::vector<std::uint64_t>(words)),
                Rows(thresholds.size(), std::vector<std::uint64_t>(words))};
    std::vector<std::uint64_t *> atLeast, below;
    for (auto &row : clear.atLeast) atLeast.push_back(row.data());
    for (auto &row : clear.below) below.push_back(row.data());
    findClear(samples.data(), words, thresholds, bandLimited, {atLeast, below});
    return clear;
}

/// How far off the straight line behind a sample the signal may lie: see SymbolMiddles::symbols().
double strays(const std::vector<double> &v, std::size_t i)
{
    return 0.125 * (2 * (std::abs(v[i] - v[i - 1]) + std::abs(v[i + 1] - v[i]) + std::abs(v[i + 2] - v[i + 1])) +
                    std::abs(v[i - 1] - v[i - 2]) + std::abs(v[i + 3] - v[i + 2]));
}

} // namespace

TEST(ClearSymbols, AreThoseFartherFromAThresholdThanTheSignalMayStray)
{
    test::byEachTarget([] {
        std::mt19937_64 random(6);
        const CodeScale scale{0.01, -0.7};
        const std::vector<double> thresholds{-1.203, -0.7, 0.4};
        std::vector<std::int32_t> first;
        for (const double threshold : thresholds) first.push_back(scale.firstAt(threshold));
        for (const std::size_t words : {1, 2, 5}) {
            std::vector<std::int16_t> codes(words * 64 + lanePadding);
            int at = 0;
            for (std::int16_t &code : codes)
                code = std::int16_t(at += int(random() % (random() % 9 ? 5 : 150)) - at / 9);
            const std::vector<std::int32_t> wide(codes.begin(), codes.end());
            std::vector<double> values;
            for (const std::int16_t code : codes) values.push_back(scale.valueOf(code));
            std::vector<double> gaps = values;
            gaps[20] = std::numeric_limits<double>::quiet_NaN();
            for (const bool bandLimited : {false, true}) {
                const Clear ofCodes = found(codes, first, bandLimited), ofWide = found(wide, first, bandLimited),
                            ofValues = found(values, thresholds, bandLimited),
                            ofGaps = found(gaps, thresholds, bandLimited);
                int clear = 0;
                for (std::size_t t = 0; t < thresholds.size(); ++t) {
                    for (std::size_t i = 0; i < words * 64; ++i) {
                        const bool inside = i >= 2 && i + 3 < words * 64;
                        const double off = inside && bandLimited ? strays(values, i) : 0,
                                     low = std::min(values[i], values[i + 1]) - off,
                                     high = std::max(values[i], values[i + 1]) + off;
                        const auto expect = [&](bool is, bool should, double margin) {
                            if (!inside) should = false;
                            if (!inside || std::abs(margin) > 1e-12) { // which rounding decides
                                EXPECT_EQ(is, should) << t << " " << i;
                            }
                        };
                        expect(ofValues.is(ofValues.atLeast, t, i), low >= thresholds[t], low - thresholds[t]);
                        expect(ofValues.is(ofValues.below, t, i), high < thresholds[t], high - thresholds[t]);
                        // Codes are told where a whole one lies between.
                        const double lowCode = (low - scale.offset) / scale.step,
                                     highCode = (high - scale.offset) / scale.step;
                        expect(ofWide.is(ofWide.atLeast, t, i), lowCode >= first[t], lowCode - first[t]);
                        expect(ofWide.is(ofWide.below, t, i), highCode <= first[t] - 1, highCode - first[t] + 1);
                        // Short ones stray up to 9/8 of a code more.
                        const auto expectMost = [&](bool is, bool should, double margin) {
                            if (is || margin > (bandLimited ? 9.0 / 8 : 0) + 1e-12) {
                                EXPECT_EQ(is, should) << t << " " << i;
                            }
                        };
                        expectMost(ofCodes.is(ofCodes.atLeast, t, i), ofWide.is(ofWide.atLeast, t, i),
                                   lowCode - first[t]);
                        expectMost(ofCodes.is(ofCodes.below, t, i), ofWide.is(ofWide.below, t, i),
                                   first[t] - 1 - highCode);
                        const bool isNear = i + 3 >= 20 && i <= 22;
                        const bool reached = bandLimited ? isNear : i == 19 || i == 20;
                        EXPECT_EQ(ofGaps.is(ofGaps.atLeast, t, i), !reached && ofValues.is(ofValues.atLeast, t, i));
                        EXPECT_EQ(ofGaps.is(ofGaps.below, t, i), !reached && ofValues.is(ofValues.below, t, i));
                        clear += ofValues.is(ofValues.atLeast, t, i) || ofValues.is(ofValues.below, t, i);
                    }
                }
                EXPECT_GT(clear, int(words * 64)); // one in three at least
            }
        }
    });
}

TEST(ClearSymbols, OfShortCodesAreToldAtTheirEnds)
{
    test::byEachTarget([] {
        constexpr std::int16_t least = -32768, most = 32767;
        const std::vector<std::int32_t> thresholds{-40000, least, least + 1, 0, most, most + 1, 40000};
        for (const std::int16_t code : {least, most}) { // and jumps between them, that stray beyond all codes
            const std::vector<std::int16_t> still(64 + lanePadding, code);
            std::vector<std::int16_t> jumps = still;
            for (std::size_t i = 0; i < jumps.size(); i += 2) jumps[i] = std::int16_t(-1 - code);
            for (const bool bandLimited : {false, true}) {
                const Clear clear = found(still, thresholds, bandLimited), none = found(jumps, thresholds, bandLimited);
                for (std::size_t t = 0; t < thresholds.size(); ++t) {
                    const bool between = thresholds[t] > least && thresholds[t] <= most;
                    EXPECT_EQ(clear.is(clear.atLeast, t, 30), between && code >= thresholds[t]) << thresholds[t];
                    EXPECT_EQ(clear.is(clear.below, t, 30), between && code < thresholds[t]) << thresholds[t];
                    EXPECT_FALSE(none.is(none.atLeast, t, 30) || none.is(none.below, t, 30)) << thresholds[t];
                }
            }
        }
    });
}
