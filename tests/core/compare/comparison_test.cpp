#include "compared_json.h"
#include "comparison.h"
#include "error.h"
#include "results_json.h"
#include "signals.h"
#include "table_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <numeric>

namespace fulvex {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

/// Pulses of ramps with noise. `slope`: samples from one state to the other.
std::vector<double> voltsOf(std::uint64_t seed, double slope)
{
    std::vector<double> volts;
    test::Gaussian random(seed);
    for (int i = 0; i < 20000; ++i) {
        const double at = std::fmod(i + 0.37 * (i / 200), 200.0), up = std::min(1.0, at / slope),
                     down = std::clamp((at - 100) / slope, 0.0, 1.0);
        volts.push_back(up - down + 0.004 * random());
    }
    return volts;
}

struct Pulses : test::TableProject {
    Pulses(std::uint64_t seed, double slope) : Pulses(voltsOf(seed, slope)) {}
    explicit Pulses(const std::vector<double> &volts) : TableProject(volts)
    {
        for (const char *quantity : {"rise_time", "fall_time", "amplitude"}) measure(quantity, "a");
    }
};

ComparedResult sideOf(test::TableProject &project, const char *name)
{
    return comparedOf(project.evaluate({.fingerprints = true}), name, "1");
}

const Comparison::Pair &pairOf(const Comparison &comparison, const std::string &id)
{
    for (const Comparison::Pair &pair : comparison.pairs)
        if (pair.first.id == id) return pair;
    throw std::out_of_range(id);
}

TEST(Comparison, ARecordAgreesWithItself)
{
    Pulses project(1, 32);
    const Comparison found = compared(sideOf(project, "A"), sideOf(project, "B"));
    EXPECT_FALSE(found.differs());
    EXPECT_THAT(found.settings, IsEmpty());
    EXPECT_THAT(found.otherCaptures, IsEmpty());
    ASSERT_EQ(found.pairs.size(), 5u); // two spreads
    for (const Comparison::Pair &pair : found.pairs) {
        EXPECT_EQ(pair.difference, 0);
        EXPECT_EQ(pair.times, 0);
    }
    EXPECT_THAT(summaryOf(found), HasSubstr("Nothing is set differently"));
}

/// Of the same thing measured twice, other noise moves numbers by no more than their uncertainties say: of 40 pairs
/// about two stray by more than two; seven are too many by chance once in a thousand times.
TEST(Comparison, OtherNoiseIsNoDifference)
{
    int differ = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        Pulses a(2 * seed, 32), b(2 * seed + 1, 32);
        const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
        differ += pairOf(found, "rise_time").differs();
        EXPECT_THAT(found.otherCaptures, ElementsAre("r"));
        EXPECT_LT(std::abs(*pairOf(found, "rise_time").times), 4.5) << seed;
    }
    EXPECT_LT(differ, 7);
}

TEST(Comparison, SlowerEdgesAreADifferenceOfTheDevice)
{
    Pulses a(1, 32), b(2, 40);
    const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
    const Comparison::Pair &rise = pairOf(found, "rise_time");
    EXPECT_NEAR(*rise.difference, 0.8 * 8 * 1e-10, 6 * *rise.uncertainty); // 10 to 90 % of eight samples more
    EXPECT_NEAR(*rise.times, *rise.difference / std::hypot(*rise.first.uncertainty, *rise.second.uncertainty), 1e-9);
    EXPECT_TRUE(rise.differs());
    EXPECT_FALSE(rise.setDifferently);
    EXPECT_FALSE(pairOf(found, "amplitude").differs());
    EXPECT_TRUE(found.differs());
    EXPECT_THAT(summaryOf(found), HasSubstr("2 of 3 numbers differ"));
    EXPECT_THAT(summaryOf(found), HasSubstr("the difference is in the captures"));
}

TEST(Comparison, OtherLevelsAreNamedAsTheCause)
{
    Pulses a(1, 32), b(1, 32);
    LevelsEntry steep;
    steep.id = "steep";
    steep.low = 20;
    steep.high = 80;
    b.document.levels.push_back(steep);
    b.document.measurements[0].levels = "steep";
    const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
    EXPECT_TRUE(pairOf(found, "rise_time").differs());
    EXPECT_TRUE(pairOf(found, "rise_time").setDifferently);
    EXPECT_FALSE(pairOf(found, "fall_time").setDifferently);
    ASSERT_EQ(found.settings.size(), 2u); // low and high
    EXPECT_THAT(found.settings[0].rows, ElementsAre("rise_time"));
    EXPECT_THAT(found.otherCaptures, IsEmpty());
    EXPECT_THAT(found.movedBy(found.settings[0]), ElementsAre("rise_time"));
    EXPECT_THAT(summaryOf(found), HasSubstr("1 of 3 numbers differs"));
    EXPECT_THAT(summaryOf(found), HasSubstr("2 settings differ, and it stands on them"));
}

TEST(Comparison, RowsFindEachOtherByIdOrByWhatTheyAreOf)
{
    Pulses a(1, 32), b(1, 32);
    b.document.measurements[0].id = "tr";
    b.document.measurements[2].id = "swing";
    b.document.measurements[2].quantity = "peak_to_peak";
    b.measure("mean", "a");
    const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
    EXPECT_EQ(pairOf(found, "rise_time").second.id, "tr");
    EXPECT_THAT(found.onlyFirst, ElementsAre("amplitude"));
    EXPECT_THAT(found.onlySecond, ElementsAre("swing", "mean"));
    EXPECT_TRUE(found.differs());
    // Two that may be meant are none.
    b.document.measurements.push_back(b.document.measurements[0]);
    b.document.measurements.back().id = "tr_again";
    EXPECT_THAT(compared(sideOf(a, "A"), sideOf(b, "B")).onlyFirst, ElementsAre("rise_time", "amplitude"));
}

TEST(Comparison, AVerdictThatChangesIsADifference)
{
    Pulses a(1, 32), b(1, 32);
    a.document.measurements[0].limit.max = 1e-8;
    b.document.measurements[0].limit.max = 1e-12;
    const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
    EXPECT_TRUE(pairOf(found, "rise_time").verdictDiffers());
    EXPECT_FALSE(pairOf(found, "rise_time").differs());
    EXPECT_TRUE(found.differs());
    ASSERT_EQ(found.settings.size(), 1u); // the limit
    EXPECT_THAT(found.movedBy(found.settings[0]), ElementsAre("rise_time"));
    EXPECT_FALSE(pairOf(found, "rise_time").setDifferently);
}

TEST(Comparison, WhatOneCannotMeasureDiffers)
{
    Pulses a(1, 32), b(std::vector<double>(20000, 0.5));
    const Comparison found = compared(sideOf(a, "A"), sideOf(b, "B"));
    EXPECT_TRUE(pairOf(found, "rise_time").differs());
    EXPECT_FALSE(pairOf(found, "rise_time").difference);
    EXPECT_NE(pairOf(found, "rise_time").second.reason, "");
}

TEST(Comparison, AResultsFileSaysTheSameAsTheResults)
{
    Pulses project(1, 32);
    project.document.measurements[0].limit.max = 1e-8;
    const Results results = project.evaluate({.fingerprints = true});
    const std::string json = resultsJson(results, {"", "2026-01-01T00:00:00Z"});
    EXPECT_TRUE(isResultsJson(json));
    const ComparedResult read = comparedOfJson(json, "results.json"), made = comparedOf(results, "made", "1");
    ASSERT_TRUE(read.document);
    EXPECT_TRUE(*read.document == *made.document);
    const Comparison found = compared(made, read);
    EXPECT_FALSE(found.differs());
    EXPECT_TRUE(found.settingsKnown);
    EXPECT_THAT(found.settings, IsEmpty());
    EXPECT_EQ(pairOf(found, "rise_time").difference, 0); // to the last bit
    EXPECT_EQ(read.numbers[0].verdict, Verdict::pass);
}

TEST(Comparison, AnOlderResultsFileIsComparedByItsNumbers)
{
    Pulses project(1, 32);
    const Results results = project.evaluate({.fingerprints = true});
    auto json = nlohmann::ordered_json::parse(resultsJson(results, {"", "2026-01-01T00:00:00Z"}));
    json.erase("document");
    const Comparison found = compared(comparedOfJson(json.dump(), "old"), comparedOf(results, "made", "1"));
    EXPECT_FALSE(found.settingsKnown);
    EXPECT_FALSE(found.differs());
    EXPECT_THAT(summaryOf(found), HasSubstr("make the older one anew"));
}

TEST(Comparison, WhatIsNoResultsFileIsRefused)
{
    EXPECT_FALSE(isResultsJson(R"({"fulvex": 1, "measurements": []})")); // a project
    EXPECT_FALSE(isResultsJson("PK\x03\x04"));
    EXPECT_FALSE(isResultsJson(""));
    for (const char *text : {"", "{}", "[]", R"({"fulvex": "0.1.0"})", R"({"fulvex": 1, "measurements": []})"})
        EXPECT_THROW(comparedOfJson(text, "x"), Error) << text;
    // Members of another kind are not there; no more.
    const ComparedResult odd = comparedOfJson(
        R"({"fulvex": "9", "measurements": [{"id": 3}, {"id": "a", "mean": "x", "unit": 5}, 7], "masks": {}})", "x");
    ASSERT_EQ(odd.numbers.size(), 1u);
    EXPECT_FALSE(odd.numbers[0].value);
    EXPECT_THROW(comparedOfJson(R"({"fulvex": "9", "measurements": [], "document": {"fulvex": 1, "no": 2}})", "x"),
                 Error);
}

TEST(Comparison, TheCapturesOfARunAreTheSameInAnyOrder)
{
    ComparedResult a{"A", "1", nullptr, {{"r", "c1", "aa"}, {"r", "c2", "bb"}, {"s", "d", "cc"}}, {}}, b = a;
    std::swap(b.captures[0], b.captures[1]);
    EXPECT_THAT(compared(a, b).otherCaptures, IsEmpty());
    b.captures[0].sha256 = "dd";
    EXPECT_THAT(compared(a, b).otherCaptures, ElementsAre("r")); // once
    b = a;
    b.captures.pop_back();
    EXPECT_THAT(compared(a, b).otherCaptures, ElementsAre("s"));
    a.captures[0].sha256 = b.captures[0].sha256 = ""; // not known
    EXPECT_THAT(compared(a, b).otherCaptures, ElementsAre("r", "s"));
}

/// Of values about nothing the mean says nothing: twice the noise is seen in how they spread.
TEST(Comparison, OfErrorsTheSpreadIsCompared)
{
    const auto bits = [](std::uint64_t seed, double jitter) {
        test::DataSpec spec;
        spec.randomJitter = jitter;
        spec.seed = seed;
        test::TableProject project(test::makeData(spec).volts);
        project.document.clocks.push_back({.id = "ck", .source = "a"});
        project.measure("time_interval_error", "a", "ck");
        return sideOf(project, "x");
    };
    int differ = 0;
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        const Comparison same = compared(bits(2 * seed, 0.02), bits(2 * seed + 1, 0.02));
        ASSERT_EQ(same.pairs.size(), 2u);
        EXPECT_EQ(same.pairs[1].first.part, ComparedNumber::Part::spread);
        EXPECT_TRUE(same.pairs[1].matters);
        differ += same.pairs[1].differs();
    }
    EXPECT_LE(differ, 5); // of twenty at 95 % one; six by chance once in three thousand times
    const Comparison other = compared(bits(1, 0.02), bits(2, 0.024));
    EXPECT_FALSE(other.pairs[0].differs());
    ASSERT_TRUE(other.pairs[1].differs());
    EXPECT_GT(*other.pairs[1].times, 4);
    EXPECT_THAT(summaryOf(other), HasSubstr("1 of 2 numbers differs"));
}

/// s / sqrt(2 (n - 1)) is what the deviation of n normal values scatters by; of values of which each is the mean of
/// four neighbours fewer count. Of 200 pairs 2 u hold in 95 %: fewer than 179 would be by chance once in ten thousand
/// times.
TEST(Comparison, ASpreadIsAsCertainAsItsValuesAreMany)
{
    for (const int alike : {1, 4}) {
        int hold = 0;
        for (std::uint64_t seed = 0; seed < 200; ++seed) {
            ComparedNumber spread[2];
            for (std::uint64_t side = 0; side < 2; ++side) {
                test::Gaussian random(1000 * std::uint64_t(alike) + 2 * seed + side);
                std::vector<double> noise, values;
                for (int i = 0; i < 4000; ++i) noise.push_back(random());
                for (int i = 0; i + alike <= 4000; ++i)
                    values.push_back(std::accumulate(noise.begin() + i, noise.begin() + i + alike, 0.0));
                PopulationBuilder builder;
                for (std::size_t i = 0; i < values.size(); ++i) builder.add(double(i), 1, values[i]);
                const Statistics found = statisticsOf(builder.take());
                ComparedNumber mean;
                mean.value = found.mean;
                spread[side] = spreadOf(mean, found.count, *found.std, found.uncertainty);
            }
            const double apart = *spread[0].value - *spread[1].value;
            hold += std::abs(apart) < 2 * std::hypot(*spread[0].uncertainty, *spread[1].uncertainty);
        }
        EXPECT_GT(hold, 178) << alike;
        if (alike == 1) {
            EXPECT_LT(hold, 200);
        }
    }
}

TEST(Comparison, GoesOnAsJson)
{
    Pulses a(1, 32), b(2, 40);
    b.document.levels.push_back({});
    b.document.levels[0].low = 15;
    const auto json = nlohmann::json::parse(comparisonJson(compared(sideOf(a, "A"), sideOf(b, "B"))));
    EXPECT_EQ(json.at("a").at("name"), "A");
    EXPECT_EQ(json.at("settings").at(0).at("of"), "default");
    EXPECT_EQ(json.at("settings").at(0).at("behind").size(), 3u);
    EXPECT_EQ(json.at("settings").at(0).at("moves").size(), 2u); // no amplitude by levels of transitions
    EXPECT_EQ(json.at("measurements").size(), 5u);
    EXPECT_TRUE(json.at("measurements").at(0).at("differs"));
    EXPECT_TRUE(json.at("measurements").at(0).at("set_differently"));
    EXPECT_EQ(json.at("other_captures").at(0), "r");
}

} // namespace
} // namespace fulvex
