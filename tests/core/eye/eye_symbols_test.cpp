// Eyes of signals with more than two levels: what each symbol's level is, and where neighbours cross.

#include "eye_fold.h"
#include "signals.h"

#include <cmath>
#include <random>

using namespace fulvex;

namespace {

/// Symbols in a row on a clock of exactly `samplesPerUi`, with raised-cosine transitions a third of a unit interval
/// long about each boundary, and noise.
struct Levels {
    std::vector<double> levels;
    double samplesPerUi = 16.3, noise = 0;
    std::int64_t symbols = 4000;
    std::uint64_t seed = 1;
    SourcePtr source() const
    {
        std::mt19937_64 random(seed);
        std::normal_distribution<double> gauss(0, 1);
        std::vector<double> symbol;
        for (std::int64_t n = 0; n <= symbols; ++n) symbol.push_back(levels[random() % levels.size()]);
        std::vector<double> values;
        for (std::int64_t i = 0; i < std::int64_t(double(symbols) * samplesPerUi); ++i) {
            const double ui = double(i) / samplesPerUi, boundary = std::round(ui), off = (ui - boundary) * 6;
            const auto after = std::size_t(boundary), before = after > 0 ? after - 1 : 0;
            const double share = off <= -1 ? 0 : off >= 1 ? 1 : 0.5 + 0.5 * std::sin(off * 1.5707963267948966);
            values.push_back(symbol[before] + (symbol[after] - symbol[before]) * share + noise * gauss(random));
        }
        return makeMemorySource(std::move(values), 1e-10);
    }
    EyeRule rule() const
    {
        EyeRule rule;
        rule.thresholds.clear();
        for (std::size_t i = 0; i + 1 < levels.size(); ++i) rule.thresholds.push_back((levels[i] + levels[i + 1]) / 2);
        rule.least = levels.front() - 6 * noise - 1e-9;
        rule.most = levels.back() + 6 * noise + 1e-9;
        rule.first = 2;
        rule.last = symbols - 2;
        return rule;
    }
    EyeFold fold() const
    {
        const SourcePtr record = source();
        Progress progress;
        return foldEye(record, UnitIntervalMap(record->axis(), 0, samplesPerUi), rule(), progress);
    }
};

} // namespace

TEST(EyeSymbols, EachLevelIsWhatItWasMadeWith)
{
    for (const std::vector<double> &levels : {std::vector<double>{-0.4, 0.4},
                                              {-1, 0.1, 1},
                                              {-0.45, -0.15, 0.15, 0.45},
                                              {0, 1, 2, 3, 4, 5, 6, 7},
                                              {-0.5, -0.4, 0.3, 0.5}}) {
        for (const double samplesPerUi : {9.7, 16.3, 64.0}) {
            Levels signal{levels, samplesPerUi, 0.01 * (levels.back() - levels.front()) / double(levels.size())};
            signal.seed = std::uint64_t(samplesPerUi) + levels.size();
            const EyeFold fold = signal.fold();
            ASSERT_EQ(fold.sum.levels.size(), levels.size());
            double counted = 0;
            for (std::size_t i = 0; i < levels.size(); ++i) {
                const Moments &level = fold.sum.level(i);
                counted += level.count;
                // Symbols are as likely as each other, and each gives a fifth of its samples.
                const double expected = double(signal.symbols - 4) / double(levels.size()),
                             four = 4 * std::sqrt(expected);
                EXPECT_NEAR(level.count / (0.2 * samplesPerUi), expected, four + 0.06 * expected) << i;
                EXPECT_NEAR(level.mean, levels[i], 5 * signal.noise / std::sqrt(level.count)) << i;
                EXPECT_NEAR(level.std(), signal.noise, 5 * signal.noise / std::sqrt(2 * level.count)) << i;
            }
            EXPECT_NEAR(counted, 0.2 * double(signal.symbols - 4) * samplesPerUi, double(signal.symbols));
        }
    }
}

TEST(EyeSymbols, NeighboursCrossHalfwayAndTracesAreOfTheirOwnPair)
{
    Levels signal{{-0.45, -0.2, 0.15, 0.45}, 16.3, 0.001};
    const EyeFold fold = signal.fold();
    for (std::size_t lower = 0; lower < 3; ++lower) {
        const double halfway = (signal.levels[lower] + signal.levels[lower + 1]) / 2;
        EXPECT_NEAR(fold.crossing(lower), halfway, 0.004) << lower; // of steps of 0.01 in phase
    }
    EXPECT_TRUE(std::isnan(fold.crossing(3)));
    for (std::size_t before = 0; before < 4; ++before) {
        for (std::size_t after = 0; after < 4; ++after) {
            if (before == after) continue;
            const auto &bins = fold.sum.from(before, after).bins;
            const auto &first = bins.front(), &last = bins.back();
            EXPECT_NEAR(first.value / first.count, signal.levels[before], 0.001);
            EXPECT_NEAR(last.value / last.count, signal.levels[after], 0.001);
        }
    }
}

TEST(EyeSymbols, FoldedSampleBySampleAreTheSame)
{
    // 70 000 samples a unit interval go the slow way; the same signal at a hundredth of the rate goes the fast one.
    Levels fast{{-1, 0, 0.5, 1}, 700, 0}, slow{{-1, 0, 0.5, 1}, 70000, 0};
    fast.symbols = slow.symbols = 40;
    const EyeFold a = fast.fold(), b = slow.fold();
    for (std::size_t i = 0; i < 4; ++i) {
        EXPECT_NEAR(b.sum.level(i).mean, a.sum.level(i).mean, 1e-12);
        EXPECT_NEAR(b.sum.level(i).count, 100 * a.sum.level(i).count, 100.0 * 40);
        for (std::size_t k = 0; k < 4; ++k) {
            if (i == k) continue;
            const auto &one = a.sum.from(i, k).bins, &other = b.sum.from(i, k).bins;
            for (std::size_t bin = 0; bin < one.size(); ++bin)
                EXPECT_NEAR(other[bin].count, 100 * one[bin].count, 100.0 * 40);
        }
    }
}

TEST(EyeSymbols, WhereAGapIsNothingIsDecided)
{
    Levels signal{{-0.45, -0.15, 0.15, 0.45}, 16, 0};
    std::vector<double> values(std::size_t(signal.source()->axis().count));
    signal.source()->read(0, values);
    for (std::int64_t n = 100; n < 110; ++n) values[std::size_t(n * 16 + 8)] = NAN; // in the middle
    const SourcePtr source = makeMemorySource(values, 1e-10);
    Progress progress;
    const EyeFold gapped = foldEye(source, UnitIntervalMap(source->axis(), 0, 16), signal.rule(), progress),
                  whole = signal.fold();
    double lost = 0;
    for (std::size_t i = 0; i < 4; ++i) lost += whole.sum.level(i).count - gapped.sum.level(i).count;
    EXPECT_EQ(lost, 10 * 3); // of 16 samples three lie in the middle fifth; of these the gap itself, and its neighbours
}
