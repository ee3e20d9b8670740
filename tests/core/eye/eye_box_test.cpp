#include "clock_recovery.h"
#include "eye_box.h"
#include "signals.h"

#include <cmath>

using namespace fulvex;

namespace {

constexpr int perUi = 10;

/// Boundaries at 0, 10, 20, …
UnitIntervalMap plainMap(std::int64_t samples)
{
    return {{0, 1e-9, samples}, 0, perUi};
}

EyePasses passes(const std::vector<double> &volts, const EyeBox &box, std::size_t wanted = 1000)
{
    const UnitIntervalMap map = plainMap(std::int64_t(volts.size()));
    Progress progress;
    return passesThrough(makeMemorySource(volts, 1e-9), map, {{0.5}, 0, 1, 0, map.unitIntervals(), 1}, box, wanted,
                         progress);
}

} // namespace

/// A flat record with a single sample off in some unit intervals: those, and no others, pass where it is, and on the
/// straight lines to its neighbours.
TEST(EyeBox, NamesExactlyTheUnitIntervalsThatPass)
{
    std::vector<double> volts(perUi * 70'000 + 1);
    std::vector<std::int64_t> off;
    for (std::int64_t n = 3; n < 69'000; n += 1 + n % 977) {
        volts[std::size_t(n * perUi + 5)] = 1;
        off.push_back(n);
    }
    const auto expectAll = [&](const EyeBox &box, std::int64_t shift) {
        const EyePasses found = passes(volts, box);
        EXPECT_EQ(found.unitIntervals, 70'000);
        ASSERT_EQ(found.count, std::int64_t(off.size()));
        for (std::size_t i = 0; i < std::min<std::size_t>(off.size(), 1000); ++i)
            ASSERT_EQ(found.first[i].unitInterval, off[i] + shift);
    };
    expectAll({0.49, 0.51, 0.9, 1.1}, 0);   // the sample
    expectAll({0.41, 0.43, 0.1, 0.3}, 0);   // the line up to it: 0.1 to 0.3 high there
    expectAll({0.57, 0.59, 0.1, 0.3}, 0);   // the line down
    expectAll({1.49, 1.51, 0.9, 1.1}, -1);  // as the unit interval before sees it
    expectAll({-0.51, -0.49, 0.9, 1.1}, 1); // and the one after
    EXPECT_EQ(passes(volts, {0.41, 0.43, 0.31, 0.9}).count, 0);
    EXPECT_EQ(passes(volts, {0.61, 0.9, 0.01, 1.1}).count, 0);
    EXPECT_EQ(passes(volts, {0.7, 0.8, -0.1, 0.1}).count, 70'000);
    const EyePasses few = passes(volts, {0.49, 0.51, 0.9, 1.1}, 3);
    EXPECT_EQ(few.count, std::int64_t(off.size()));
    ASSERT_EQ(few.first.size(), 3u);
    EXPECT_EQ(few.first[2].unitInterval, off[2]);
    EXPECT_NEAR(few.first[2].time, double(off[2] * perUi + 5) * 1e-9, 1e-18);
    EXPECT_EQ(few.first[2].value, 1);
}

TEST(EyeBox, NothingReachesAcrossAGap)
{
    std::vector<double> volts(perUi * 20 + 1);
    volts[45] = 1;
    volts[46] = std::nan("");
    EXPECT_EQ(passes(volts, {0.49, 0.51, 0.9, 1.1}).count, 1);
    EXPECT_EQ(passes(volts, {0.57, 0.59, 0.1, 0.9}).count, 0); // there is no line down
}

/// Every sample that the picture counts in a cell belongs to a unit interval that passes through it: with a cell
/// narrower than the samples lie apart, at least as many pass as are counted.
TEST(EyeBox, ThroughACellOfThePictureAtLeastThosePassThatItCounts)
{
    for (const double samplesPerUi : {4.3, 12.5}) {
        test::DataSpec spec;
        spec.samplesPerUi = samplesPerUi;
        spec.unitIntervals = 20000;
        spec.noise = 0.02;
        spec.seed = 5;
        const test::Data data = test::makeData(spec);
        const SourcePtr source = data.source();
        const UnitIntervalMap map(source->axis(), 0.37 * samplesPerUi, samplesPerUi);
        Progress progress;
        const EyeRule rule{{0}, spec.low - 0.2, spec.high + 0.2, 0, map.unitIntervals(), 1};
        const EyeFold fold = foldEye(source, map, rule, progress);
        const EyeCounts &cells = fold.picture;
        int looked = 0;
        for (int row = 0; row < cells.rows.count && looked < 60; row += 2) {
            for (int column = row % 7; column < cells.columns && looked < 60; column += 11) {
                const auto counted = std::int64_t(cells.at(column, row));
                if (counted == 0) continue;
                ++looked;
                const EyeBox box{double(column) / cells.columns, double(column + 1) / cells.columns,
                                 cells.rows.low() + row * cells.rows.width(),
                                 cells.rows.low() + (row + 1) * cells.rows.width()};
                EXPECT_GE(passesThrough(source, map, rule, box, 10, progress).count, counted) << column << " " << row;
            }
        }
        EXPECT_GE(looked, 40);
    }
}
