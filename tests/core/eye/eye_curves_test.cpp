// Eyes drawn as curves: no comb of sample positions, and no number made of them.

#include "eye_curves.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

using namespace fulvex;

namespace {

struct Record {
    test::Data data;
    SourcePtr source;
    UnitIntervalMap map;
    EyeRule rule;
    explicit Record(double samplesPerUi, std::int64_t unitIntervals = 3000)
        : data(test::makeBandLimitedData(samplesPerUi, unitIntervals, 3)), source(data.source()),
          map(source->axis(), 2.71, samplesPerUi)
    {
        rule.least = *std::min_element(data.volts.begin(), data.volts.end());
        rule.most = *std::max_element(data.volts.begin(), data.volts.end());
        rule.interpolation = automaticInterpolation(samplesPerUi);
        rule.first = 20;
        rule.last = unitIntervals - 20;
    }
    EyeFold fold()
    {
        Progress progress;
        return foldEye(source, map, rule, progress);
    }
};

std::vector<std::uint64_t> columnTotals(const EyeCounts &counts)
{
    std::vector<std::uint64_t> totals(std::size_t(counts.columns));
    for (int row = 0; row < counts.rows.count; ++row)
        for (int column = 0; column < counts.columns; ++column) totals[std::size_t(column)] += counts.at(column, row);
    return totals;
}

} // namespace

/// Locked to the rate or not, each trace passes each column once at least, and as many rows as it changes by there.
TEST(EyeCurves, PassEveryColumnWhateverTheSamplesPerUnitInterval)
{
    for (const double samplesPerUi : {2.5, 4.0, 4.001, 8.0, 20.0}) {
        SCOPED_TRACE(samplesPerUi);
        Record record(samplesPerUi);
        record.rule.curves = 1 << 20;
        const EyeFold fold = record.fold();
        EXPECT_EQ(fold.curves.unitIntervals, fold.unitIntervals);
        const auto all = std::uint64_t(fold.unitIntervals);
        double rowsPassed = 0;
        for (const std::uint64_t total : columnTotals(fold.curves.counts)) {
            EXPECT_GE(total, all);
            rowsPassed += double(total - all);
        }
        // Half of all boundaries have a transition, at most 256 rows high, of which some columns take more than one.
        EXPECT_GT(rowsPassed, double(all));
        EXPECT_LT(rowsPassed, 0.6 * double(all) * 256);
    }
}

/// A trace lies where the band-limited signal does, to a row and what straight lines between 32 points leave.
TEST(EyeCurves, LieWhereTheSignalDoes)
{
    Record record(4.0, 400);
    record.rule.first = 200;
    record.rule.last = 201;
    record.rule.curves = 1;
    Progress progress;
    const EyeCurves curves = drawCurves(record.source, record.map, record.rule, 1, progress);
    ASSERT_EQ(curves.unitIntervals, 1);
    const auto value = [&](double ui) { // sum of the pulses it was made of
        double sum = 0;
        for (std::int64_t n = 0; n < 400; ++n) {
            const double u = 2 * (ui - double(n) - 0.5), pi = 3.14159265358979;
            const double sinc = std::abs(u) < 1e-9 ? 1 : std::sin(pi * u) / (pi * u);
            const double pulse = std::abs(std::abs(u) - 1) < 1e-9 ? 0.5 : sinc / (1 - u * u);
            sum += (record.data.bits[std::size_t(n)] ? 0.4 : -0.4) * pulse;
        }
        return sum;
    };
    const double row = curves.counts.rows.width();
    for (int column = 0; column < curves.counts.columns; ++column) {
        const double expected = value(200 + (column + 0.5) / curves.counts.columns);
        double nearest = 1;
        for (int at = 0; at < curves.counts.rows.count; ++at) {
            const double low = (double(curves.counts.rows.first) + at) * row;
            if (curves.counts.at(column, at) > 0) nearest = std::min(nearest, std::abs(low + row / 2 - expected));
        }
        EXPECT_LT(nearest, row + 0.004);
    }
}

TEST(EyeCurves, ChangeNoCountAndNoNumber)
{
    Record record(4.0);
    const EyeFold plain = record.fold();
    record.rule.curves = 500;
    const EyeFold drawn = record.fold();
    EXPECT_EQ(plain.picture.counts, drawn.picture.counts);
    EXPECT_TRUE(plain.sum.levels == drawn.sum.levels);
    EXPECT_EQ(plain.curves.unitIntervals, 0);
    // Whole runs of 16, the last of what is left: no more than asked for.
    EXPECT_GT(drawn.curves.unitIntervals, 500 - 16 - 16);
    EXPECT_LE(drawn.curves.unitIntervals, 500);
    EXPECT_EQ(record.fold().curves.counts.counts, drawn.curves.counts.counts);
    const EyeFold both = EyeFold::merged({&drawn, &drawn});
    EXPECT_EQ(both.curves.unitIntervals, 2 * drawn.curves.unitIntervals);
    for (std::size_t i = 0; i < both.curves.counts.counts.size(); ++i)
        ASSERT_EQ(both.curves.counts.counts[i], 2 * drawn.curves.counts.counts[i]);
}

TEST(EyeCurves, StopAtGapsAndAreNotDrawnOfDenseRecords)
{
    Record record(8.0, 600);
    for (std::size_t k = 800; k < 1600; ++k) record.data.volts[k] = std::nan("");
    record.source = record.data.source();
    record.rule.curves = 1 << 20;
    const EyeFold gapped = record.fold();
    for (const std::uint64_t total : columnTotals(gapped.curves.counts)) EXPECT_GT(total, 400u);
    const auto totals = columnTotals(gapped.curves.counts);
    EXPECT_LT(*std::min_element(totals.begin(), totals.end()), 560u - 90u);
    Record dense(600.0, 60);
    dense.rule.curves = 1 << 20;
    EXPECT_EQ(dense.fold().curves.unitIntervals, 0);
}

/// Of a unit interval that began before the record, or ends behind it, the part that is there, in its own columns.
TEST(EyeCurves, BeginAndEndWithTheRecord)
{
    constexpr double period = 10;
    std::vector<double> ramp;
    for (int i = 0; i < 48; ++i) ramp.push_back(0.01 * i);
    const SourcePtr source = makeMemorySource(ramp, 1e-9);
    const UnitIntervalMap map(source->axis(), 5.3, period);
    EyeRule rule;
    rule.least = 0;
    rule.most = ramp.back();
    Progress progress;
    for (const std::int64_t unitInterval : {-1, 1, 4}) {
        rule.first = unitInterval;
        rule.last = unitInterval + 1;
        const EyeCurves curves = drawCurves(source, map, rule, 1, progress);
        ASSERT_EQ(curves.unitIntervals, 1);
        const EyeCounts &counts = curves.counts;
        const std::vector<std::uint64_t> totals = columnTotals(counts);
        for (int column = 0; column < counts.columns; ++column) {
            const double at = 5.3 + period * (double(unitInterval) + (column + 0.5) / counts.columns);
            const bool isThere = at >= 0 && at < double(ramp.size() - 1);
            ASSERT_EQ(totals[std::size_t(column)] > 0, isThere) << unitInterval << ": " << column;
            if (!isThere) continue;
            const int row = int(std::floor(0.01 * at / counts.rows.width()) - double(counts.rows.first));
            EXPECT_GT(counts.at(column, row) + counts.at(column, row + 1) + counts.at(column, row - 1), 0u) << column;
        }
    }
}
