// What is said of a histogram and a trend: of values whose shape is known.

#include "row_words.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;
using testing::HasSubstr;
using testing::Not;

namespace {

Row rowOf(const std::vector<double> &values)
{
    PopulationBuilder builder(TimeAxis{0, 1e-9, std::int64_t(values.size())});
    for (std::size_t i = 0; i < values.size(); ++i) builder.add(double(i), 0, values[i]);
    auto measured = std::make_shared<Measured>();
    measured->population = builder.take();
    Row row;
    row.id = row.quantity = "rise_time";
    row.unit = "s";
    row.statistics = statisticsOf(measured->population);
    row.measured = measured;
    return row;
}

std::vector<double> normal(std::size_t count, double mean, double sigma, std::uint64_t seed)
{
    std::mt19937_64 random(seed);
    std::normal_distribution<double> of(mean, sigma);
    std::vector<double> values(count);
    for (double &value : values) value = of(random);
    return values;
}

MeasurementEntry limited(std::optional<double> min, std::optional<double> max)
{
    MeasurementEntry entry;
    entry.limit = {min, max};
    return entry;
}

} // namespace

TEST(RowWords, TellHowManyLieOutsideTheLimits)
{
    const Row row = rowOf({1e-10, 2e-10, 3e-10, 4e-10, 5e-10});
    const MeasurementEntry none, some = limited({}, 3.5e-10), all = limited(0.5e-10, 6e-10);
    EXPECT_THAT(wordsOfValues(row, &some, {}), HasSubstr("2 of 5 values lie outside the limits"));
    EXPECT_THAT(wordsOfValues(row, &all, {}), HasSubstr("All 5 values lie within the limits"));
    EXPECT_THAT(wordsOfValues(row, &none, {}), Not(HasSubstr("limits")));
    EXPECT_THAT(wordsOfValues(row, nullptr, {}), HasSubstr("Mean 300"));
}

/// Normal values hold none that chance does not explain, whatever their number; one put ten deviations out is told,
/// above as below. The farthest of n lies beyond 1.5 sqrt(2 ln n) once in n^1.25: one in 20 000 for a thousand values.
TEST(RowWords, TellWhatIsFartherThanChance)
{
    for (const std::size_t count : {100u, 1000u, 30000u}) {
        for (std::uint64_t seed = 1; seed <= 5; ++seed) {
            std::vector<double> values = normal(count, 5e-10, 1e-11, seed);
            EXPECT_THAT(wordsOfValues(rowOf(values), nullptr, {}), Not(HasSubstr("farther than chance")));
            values[count / 2] = 5e-10 + 1e-10;
            EXPECT_THAT(wordsOfValues(rowOf(values), nullptr, {}), HasSubstr("The greatest, 600"));
            values[count / 2] = 5e-10 - 1e-10;
            EXPECT_THAT(wordsOfValues(rowOf(values), nullptr, {}), HasSubstr("The least, 400"));
        }
    }
}

TEST(RowWords, TellPeaksWhereThereIsMoreThanOne)
{
    const Row row = rowOf({1e-10, 1e-10, 2e-10, 2e-10});
    EXPECT_THAT(wordsOfValues(row, nullptr, {{1e-10, 0.5}, {2e-10, 0.5}}), HasSubstr("2 peaks: 100"));
    EXPECT_THAT(wordsOfValues(row, nullptr, {{1e-10, 0.5}, {2e-10, 0.5}}), HasSubstr("(50 %)"));
    EXPECT_THAT(wordsOfValues(row, nullptr, {{1.5e-10, 1}}), Not(HasSubstr("peak")));
}

TEST(RowWords, TellWhereATrendIsLeastAndGreatest)
{
    EXPECT_EQ(wordsOfTrend(rowOf({3e-10, 1e-10, 5e-10, 2e-10})),
              "Least 100 ps at 1.00000 ns, greatest 500 ps at 2.00000 ns.");
}

TEST(RowWords, SayNothingOfWhatIsNotThere)
{
    Row row;
    EXPECT_EQ(wordsOfValues(row, nullptr, {}), "");
    EXPECT_EQ(wordsOfTrend(row), "");
    row.reason = "no edges";
    EXPECT_EQ(wordsOfValues(row, nullptr, {}), "");
    EXPECT_EQ(wordsOfTrend(rowOf({})), "");
}
