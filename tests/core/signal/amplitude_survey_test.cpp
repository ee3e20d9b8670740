#include "amplitude_survey.h"
#include "coded_channels.h"
#include "formula.h"
#include "signals.h"

#include <cmath>
#include <limits>
#include <random>

using namespace fulvex;

namespace {

AmplitudeSurvey surveyOf(const std::vector<double> &values, SampleRange range)
{
    Progress progress;
    return surveyAmplitudes(*makeMemorySource(values, 1), range, progress);
}

AmplitudeSurvey surveyOf(const std::vector<double> &values)
{
    return surveyOf(values, {0, std::int64_t(values.size())});
}

/// By the definition, one sample after the other, the extremes being known.
RunsAtExtreme runsAt(double value, const std::vector<double> &values)
{
    RunsAtExtreme end;
    end.value = value;
    int length = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
        length = values[i] == value ? length + 1 : 0;
        end.samples += values[i] == value;
        if (length != 3) continue;
        ++end.runs;
        if (end.first < 0) end.first = std::int64_t(i) - 2;
        if (i >= 3 && values[i - 3] == values[i - 3]) end.steps += std::abs(value - values[i - 3]);
    }
    return end;
}

void expectSame(const RunsAtExtreme &found, const RunsAtExtreme &should)
{
    EXPECT_EQ(found.value, should.value);
    EXPECT_EQ(found.samples, should.samples);
    EXPECT_EQ(found.runs, should.runs);
    EXPECT_EQ(found.first, should.first);
    EXPECT_NEAR(found.steps, should.steps, 1e-9 * (1 + should.steps));
}

/// Whole codes, so that extremes come again, with gaps and clipped runs of any length.
std::vector<double> codes(std::uint64_t seed, std::size_t count, int limit, double gaps)
{
    std::mt19937_64 random(seed);
    std::normal_distribution<double> step(0, 2);
    std::uniform_real_distribution<double> chance;
    std::vector<double> values;
    double at = 0;
    for (std::size_t i = 0; i < count; ++i) {
        at += step(random);
        at = std::clamp(at, -1.5 * limit, 1.5 * limit);
        values.push_back(chance(random) < gaps ? NAN : std::clamp(std::round(at), double(-limit), double(limit)));
    }
    return values;
}

} // namespace

TEST(AmplitudeSurvey, RunsAtTheExtremesAreThoseOfTheDefinition)
{
    for (const std::size_t count : {1u, 3u, 1000u, 8195u, 400003u}) { // one block, several, several parts
        for (const int limit : {3, 40, 100000}) {
            for (const double gaps : {0.0, 0.01}) {
                const auto values = codes(count + std::size_t(limit), count, limit, gaps);
                const AmplitudeSurvey survey = surveyOf(values);
                if (survey.stats.count == 0) continue;
                expectSame(survey.runs.minimum, runsAt(survey.stats.minimum, values));
                expectSame(survey.runs.maximum, runsAt(survey.stats.maximum, values));
            }
        }
    }
}

TEST(AmplitudeSurvey, ARunAcrossPartsCountsOnceWhereItsThirdSampleLies)
{
    const std::int64_t seam = 131072; // where the second part begins
    for (std::int64_t begin = seam - 5; begin <= seam + 2; ++begin) {
        std::vector<double> values(300000, 0.0);
        for (std::size_t i = 0; i < values.size(); ++i) values[i] = i % 2 ? 0.5 : -0.5;
        for (std::int64_t i = begin; i < begin + 4; ++i) values[std::size_t(i)] = 2;
        const RunsAtExtreme &top = surveyOf(values).runs.maximum;
        EXPECT_EQ(top.samples, 4);
        EXPECT_EQ(top.runs, 1);
        EXPECT_EQ(top.first, begin);
        EXPECT_EQ(top.step(), begin % 2 ? 2.5 : 1.5);
    }
}

TEST(AmplitudeSurvey, ARegionKnowsNothingOfWhatLiesBeforeIt)
{
    const std::vector<double> values{5, 5, 5, 1, 1, 1, 0, 2, 2, 2, 2};
    const AmplitudeSurvey part = surveyOf(values, {2, 11});
    EXPECT_EQ(part.runs.maximum.samples, 1);
    EXPECT_EQ(part.runs.maximum.runs, 0);
    const AmplitudeSurvey tail = surveyOf(values, {9, 11});
    EXPECT_EQ(tail.runs.maximum.samples, 2);
    EXPECT_EQ(tail.runs.maximum.runs, 0);
}

TEST(AmplitudeSurvey, ExtremesOneStepApartAreCounted)
{
    const double next = std::nextafter(1.0, 2.0);
    std::vector<double> values(1000, 1.0);
    for (std::size_t i = 500; i < 700; ++i) values[i] = next;
    const AmplitudeSurvey survey = surveyOf(values);
    EXPECT_EQ(survey.runs.minimum.samples, 800);
    EXPECT_EQ(survey.runs.maximum.samples, 200);
    EXPECT_EQ(survey.runs.maximum.first, 500);
    ASSERT_EQ(survey.histogram.bins.size(), 2u);
    EXPECT_EQ(survey.histogram.bins[0].count, 800);
}

TEST(AmplitudeSurvey, ACancelEndsIt)
{
    Progress progress;
    progress.cancel();
    EXPECT_THROW(surveyAmplitudes(*makeMemorySource({1, 2, 3}, 1), {0, 3}, progress), Cancelled);
}

/// Each sample in the bin it belongs to, whatever came first: counts and sums against a plain loop on the final grid.
TEST(AmplitudeHistogram, IsThatOfTheGridKnownBefore)
{
    std::mt19937_64 random(7);
    std::normal_distribution<double> gauss;
    for (const double growth : {0.0, 1e-4, 1e-3}) { // extremes that grow with the record
        for (const double offset : {0.0, -3.0, 1e6, 1e15}) {
            std::vector<double> values;
            for (int i = 0; i < 300000; ++i)
                values.push_back(i % 1000 == 7 ? NAN : offset + gauss(random) * std::exp(growth * i / 3));
            const AmplitudeSurvey survey = surveyOf(values);
            const AmplitudeHistogram &histogram = survey.histogram;
            const NestedBins grid = NestedBins::over(survey.stats.minimum, survey.stats.maximum, 2048);
            ASSERT_EQ(histogram.grid, grid);
            ASSERT_EQ(histogram.bins.size(), std::size_t(grid.count));
            if (offset == 0) {
                EXPECT_GE(grid.count, 1024);
            }
            std::vector<double> counts(histogram.bins.size()), sums(histogram.bins.size());
            for (const double v : values) {
                if (!(v == v)) continue;
                const auto bin = std::size_t(grid.binOf(v));
                ++counts[bin];
                sums[bin] += v;
            }
            for (std::size_t i = 0; i < counts.size(); ++i) {
                ASSERT_EQ(histogram.bins[i].count, counts[i]) << i;
                const double low = grid.low() + double(i) * grid.width(), size = std::abs(low) + grid.width();
                ASSERT_NEAR(histogram.bins[i].sum, sums[i], 1e-12 * counts[i] * size) << i; // sums of 1e5, rounded
            }
        }
    }
}

TEST(AmplitudeHistogram, MergesToTheSameCountsInAnyGrouping)
{
    const auto values = codes(5, 30000, 40, 0.02);
    const AmplitudeHistogram whole = surveyOf(values).histogram;
    std::vector<AmplitudeHistogram> parts;
    for (const std::int64_t cut : {100, 9000, 9001, 30000})
        parts.push_back(surveyOf(values, {parts.empty() ? 0
                                                        : (cut == 9000   ? 100
                                                           : cut == 9001 ? 9000
                                                                         : 9001),
                                          cut})
                            .histogram);
    AmplitudeHistogram forth, back;
    for (std::size_t i = 0; i < parts.size(); ++i) forth.merge(parts[i]), back.merge(parts[parts.size() - 1 - i]);
    for (const AmplitudeHistogram &all : {forth, back}) {
        ASSERT_EQ(all.grid, whole.grid);
        for (std::size_t i = 0; i < whole.bins.size(); ++i) {
            EXPECT_EQ(all.bins[i].count, whole.bins[i].count);
            EXPECT_EQ(all.bins[i].sum, whole.bins[i].sum); // whole numbers
        }
    }
}

TEST(AmplitudeHistogram, TakesWhateverNumbersThereAre)
{
    const double huge = std::numeric_limits<double>::max(), tiny = std::numeric_limits<double>::denorm_min();
    for (const auto &values : std::vector<std::vector<double>>{{0, 0, 0},
                                                               {-tiny, 0, tiny},
                                                               {1e-300, 2e-300},
                                                               {-huge, huge},
                                                               {1e150, -1e150, 3},
                                                               {NAN, NAN},
                                                               {1e300, 1e300},
                                                               {5e-324, 1}}) {
        const AmplitudeSurvey survey = surveyOf(values);
        double counted = 0;
        for (const AmplitudeHistogram::Bin &bin : survey.histogram.bins) counted += bin.count;
        const bool beyond =
            survey.stats.count == 0 || std::max(std::abs(survey.stats.minimum), std::abs(survey.stats.maximum)) > 1e150;
        EXPECT_EQ(counted, beyond ? 0 : double(values.size()));
    }
}

TEST(NestedBins, AreNoMoreThanAskedForAndCoverBothEnds)
{
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> exponent(-140, 140), share(-1, 1);
    for (int i = 0; i < 2000; ++i) {
        const double a = share(random) * std::pow(10.0, exponent(random)),
                     b = share(random) * std::pow(10.0, exponent(random));
        const NestedBins bins = NestedBins::over(std::min(a, b), std::max(a, b), 2048);
        ASSERT_LE(bins.low(), std::min(a, b));
        ASSERT_GT(bins.high(), std::max(a, b));
        ASSERT_LE(bins.count, 2050);
        ASSERT_EQ(bins.binOf(std::min(a, b)), 0);
        ASSERT_EQ(bins.binOf(std::max(a, b)), bins.count - 1);
    }
}

TEST(NestedBins, AreNotFinerForMoreValues)
{
    std::mt19937_64 random(4);
    std::uniform_real_distribution<double> exponent(-320, 140), share(-1, 1);
    for (int i = 0; i < 2000; ++i) {
        double low = 0, high = 0; // nothing at all is the least there is
        int before = NestedBins::over(low, high, 2048).exponent;
        for (int more = 0; more < 6; ++more) {
            const double value = share(random) * std::pow(10.0, exponent(random));
            low = std::min(low, value), high = std::max(high, value);
            const int now = NestedBins::over(low, high, 2048).exponent;
            ASSERT_GE(now, before) << low << " to " << high;
            before = now;
        }
    }
}

TEST(AmplitudeHistogram, ZerosAreAmongTheSmallestOfValues)
{
    const std::vector<double> zeros(100, 0.0), values = {0, 1e-170, 3e-170};
    AmplitudeHistogram all = surveyOf(values).histogram;
    all.merge(surveyOf(zeros).histogram);
    EXPECT_EQ(all.bins.front().count, 101);
    EXPECT_EQ(all.countWithin(0, 1), 103);
}

/// Of codes of a channel: all but the last bits of sums is that of its values.
void expectSameOfCodes(const std::vector<std::int16_t> &codes, double step, double offset, SampleRange range)
{
    const SourcePtr coded = test::codedChannel(codes, step, offset);
    ASSERT_TRUE(coded->codeScale().has_value());
    std::vector<double> values(codes.size());
    coded->read(0, values);
    Progress progress;
    const AmplitudeSurvey found = surveyAmplitudes(*coded, range, progress), should = surveyOf(values, range);
    EXPECT_EQ(found.stats.count, should.stats.count);
    EXPECT_EQ(found.stats.minimum, should.stats.minimum);
    EXPECT_EQ(found.stats.maximum, should.stats.maximum);
    EXPECT_EQ(found.stats.minimumAt, should.stats.minimumAt);
    EXPECT_EQ(found.stats.maximumAt, should.stats.maximumAt);
    const double reach = std::max({std::abs(should.stats.minimum), std::abs(should.stats.maximum), 1e-300});
    EXPECT_NEAR(found.stats.mean, should.stats.mean, 1e-12 * reach);
    EXPECT_NEAR(found.stats.squares, should.stats.squares,
                1e-10 * should.stats.squares + 1e-20 * reach * reach * double(range.size()));
    const auto expectBins = [&](const AmplitudeHistogram &a, const AmplitudeHistogram &b) {
        ASSERT_EQ(a.grid, b.grid);
        for (std::size_t k = 0; k < a.bins.size(); ++k) {
            EXPECT_EQ(a.bins[k].count, b.bins[k].count) << k;
            EXPECT_NEAR(a.bins[k].sum, b.bins[k].sum, 1e-11 * reach * (1 + b.bins[k].count)) << k;
        }
    };
    expectBins(found.histogram, should.histogram);
    ASSERT_EQ(found.stretches.size(), should.stretches.size());
    for (std::size_t k = 0; k < found.stretches.size(); ++k) {
        EXPECT_EQ(found.stretches[k].stats.count, should.stretches[k].stats.count);
        expectBins(found.stretches[k].histogram, should.stretches[k].histogram);
    }
    expectSame(found.runs.minimum, should.runs.minimum);
    expectSame(found.runs.maximum, should.runs.maximum);
}

TEST(AmplitudeSurvey, CodesAreCountedAsTheirValuesAre)
{
    std::mt19937_64 random(11);
    for (const int limit : {1, 2, 100, 2047, 32767}) {
        for (const std::size_t count : {std::size_t(1), std::size_t(2), std::size_t(3), std::size_t(8191),
                                        std::size_t(8193), std::size_t(300'001)}) {
            std::vector<std::int16_t> codes;
            std::normal_distribution<double> noise(0, limit / 2.5);
            for (std::size_t i = 0; i < count; ++i) // clipped, and wider as it goes on
                codes.push_back(std::int16_t(
                    std::clamp(noise(random) * (0.2 + double(i) / double(count)), -double(limit) - 1, double(limit))));
            SCOPED_TRACE(std::to_string(limit) + " " + std::to_string(count));
            expectSameOfCodes(codes, 3.1e-4, -0.7, {0, std::int64_t(count)});
            if (count > 10) expectSameOfCodes(codes, 1, 0, {5, std::int64_t(count) - 3});
        }
    }
    expectSameOfCodes(std::vector<std::int16_t>(20'000, -77), 0.01, 1000, {0, 20'000}); // constant
}

TEST(AmplitudeSurvey, SumsThatLeave16BitsAreCountedAsTheirValuesAre)
{
    // Now and then alone: some blocks do, and those behind them.
    std::vector<std::int16_t> a, b;
    std::mt19937_64 random(12);
    for (int i = 0; i < 100'000; ++i) {
        const bool far = i / 20'000 % 2 == 1 && i % 1000 == 0;
        a.push_back(std::int16_t(far ? 30'000 : int(random() % 2000) - 1000));
        b.push_back(std::int16_t(far ? 30'000 : int(random() % 2000) - 1000));
    }
    const SourcePtr p = test::codedChannel(a, 0.001, 0), n = test::codedChannel(b, 0.001, 0);
    Progress progress;
    const SourcePtr sum =
        Formula::parse("p + n").evaluate({[&](const std::string &id) { return id == "p" ? p : n; }, {}, {}}, progress);
    ASSERT_TRUE(sum->codeScale().has_value());
    std::vector<double> values(a.size());
    sum->read(0, values);
    const AmplitudeSurvey found = surveyAmplitudes(*sum, {0, 100'000}, progress), should = surveyOf(values);
    EXPECT_EQ(found.stats.count, 100'000);
    EXPECT_EQ(found.stats.maximum, should.stats.maximum);
    EXPECT_EQ(found.stats.maximumAt, should.stats.maximumAt);
    EXPECT_NEAR(found.stats.mean, should.stats.mean, 1e-12);
    EXPECT_NEAR(found.stats.acRms(), should.stats.acRms(), 1e-12);
    EXPECT_NEAR(found.histogram.count(), should.histogram.count(), 0);
    expectSame(found.runs.minimum, should.runs.minimum);
    expectSame(found.runs.maximum, should.runs.maximum);
}
