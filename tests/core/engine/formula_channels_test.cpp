#include "engine.h"
#include "error.h"
#include "npy_header.h"
#include "signals.h"
#include "temporary_folder.h"
#include "two_columns.h"
#include "units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

namespace {

/// Unit of a row that measures a formula over a and b; b is in A where that is stated.
std::string unitOf(const std::vector<std::pair<std::string, std::string>> &formulas, bool stated)
{
    Document document = test::twoColumns(1e-9);
    if (stated) document.channels[1].unit = "A";
    for (const auto &[id, formula] : formulas) {
        document.channels.push_back({.id = id, .formula = formula});
    }
    document.measurements.push_back({.id = "m", .quantity = "mean", .source = formulas.back().first});
    const test::TemporaryFolder folder;
    folder.write("a.npy", npyHeader("<f8", 3, 2) + test::bytesOf({1, 2, 3, 4, 5, 6}));
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    const Row found = engine.evaluate(document, folder.path(), {}, progress).rows.at(0);
    return found.reason.empty() ? found.unit : found.reason;
}

} // namespace

/// A unit that nobody stated is V until something beside it has one, however many formulas lie between.
TEST(FormulaChannels, TakeUnitsThatSomebodyStated)
{
    EXPECT_EQ(unitOf({{"d", "a - b"}}, false), "V");
    EXPECT_EQ(unitOf({{"d", "a / b"}}, false), "");
    EXPECT_EQ(unitOf({{"d", "a * b"}}, false), "V²");
    EXPECT_EQ(unitOf({{"d", "a * b"}}, true), "W");
    EXPECT_EQ(unitOf({{"d", "a + b"}}, true), "A");
    EXPECT_EQ(unitOf({{"d", "2 * a"}, {"e", "d - abs(a)"}, {"f", "e + b"}}, true), "A");
    EXPECT_EQ(unitOf({{"d", "derivative(a)"}, {"e", "d * 1 ns + b"}}, true), "A");
}

TEST(FormulaChannels, OfUnitsThatDoNotFitSayWhere)
{
    const std::string reason = unitOf({{"d", "b + 3 mV"}}, true);
    EXPECT_NE(reason.find("channel \"d\": character 3"), std::string::npos) << reason;
    EXPECT_NE(reason.find("A and V do not fit together in \"+\""), std::string::npos) << reason;
}

namespace {

using test::ns;

/// Column 0 a clock of 20.3 samples whose phase swings, column 1 a constant of 3.
class ClockChannels : public testing::Test {
protected:
    ClockChannels() : document(test::twoColumns(ns))
    {
        std::vector<double> values;
        for (int i = 0; i < count; ++i) {
            values.push_back(std::sin(cyclesAt(i)));
            values.push_back(3);
        }
        folder.write("a.npy", npyHeader("<f8", count, 2) + test::bytesOf(values));
    }
    static double cyclesAt(double i) // radians
    {
        return 2 * std::numbers::pi * i / 20.3 + 0.05 * std::sin(2 * std::numbers::pi * i / 3001.0);
    }
    void addRow(const std::string &id, const std::string &quantity, const std::string &source)
    {
        document.measurements.push_back({.id = id, .quantity = quantity, .source = source});
    }
    void addFormula(const std::string &id, const std::string &formula)
    {
        document.channels.push_back({.id = id, .formula = formula});
    }
    Row rowOf(const std::string &id)
    {
        validate(document);
        Progress progress;
        const auto results = engine.evaluate(document, folder.path(), {}, progress);
        for (const Row &row : results.rows)
            if (row.id == id) return row;
        return {};
    }
    static constexpr int count = 60000;
    Document document;
    test::TemporaryFolder folder;
    Engine engine{FULVEX_SHIPPED_MASKS};
};

} // namespace

TEST_F(ClockChannels, ARegionIsOneWithinAndNothingBeside)
{
    document.regions.push_back({"early", 10e-6, 20e-6});
    addFormula("gated", "gate(b, early)");
    addFormula("marked", "2 V * early + 0 * b");
    addRow("count", "mean", "gated");
    addRow("share", "mean", "marked");
    EXPECT_EQ(rowOf("count").statistics.mean, 3);
    EXPECT_NEAR(*rowOf("share").statistics.mean, 2 * 10001.0 / count, 1e-12);
    document.regions[0].stop = 15e-6; // another region, other numbers
    EXPECT_NEAR(*rowOf("share").statistics.mean, 2 * 5001.0 / count, 1e-12);
    EXPECT_EQ(rowOf("count").unit, "V");
}

/// The trend of periods has their mean and unit, and follows what the row goes by.
TEST_F(ClockChannels, ATrendIsItsRowsValuesOverTime)
{
    addRow("each", "period", "a");
    addFormula("course", "trend(each)");
    addRow("mean", "mean", "course");
    addRow("top", "maximum", "course");
    const Row each = rowOf("each"), mean = rowOf("mean"), top = rowOf("top");
    ASSERT_TRUE(mean.reason.empty()) << mean.reason;
    EXPECT_EQ(mean.unit, "s");
    EXPECT_NEAR(*mean.statistics.mean, *each.statistics.mean, 1e-5 * *each.statistics.mean);
    EXPECT_NEAR(*top.statistics.mean, *each.statistics.max, 2e-2 * *each.statistics.std);
    document.measurements[0].quantity = "frequency";
    EXPECT_EQ(rowOf("mean").unit, "Hz");
    EXPECT_NEAR(*rowOf("mean").statistics.mean * *mean.statistics.mean, 1, 1e-4);
}

/// What is kept out of a row says nothing of the signal: the trend has it all the same, whatever came first.
TEST_F(ClockChannels, ATrendHasWhatIsKeptOutOfItsRow)
{
    addRow("each", "period", "a");
    addFormula("course", "trend(each)");
    addRow("mean", "mean", "course");
    const double before = *rowOf("mean").statistics.mean;
    const auto all = rowOf("each").statistics.count;
    document.keptOut.push_back({.id = "out", .of = {"each"}, .start = 1e-6, .stop = 30e-6, .reason = "a relay"});
    EXPECT_LT(rowOf("each").statistics.count, all);
    EXPECT_EQ(*rowOf("mean").statistics.mean, before);
    document.measurements[0].quantity = "frequency"; // anew, with the span there
    const double fresh = *rowOf("mean").statistics.mean;
    document.keptOut.clear();
    EXPECT_EQ(*rowOf("mean").statistics.mean, fresh);
}

/// The mean of repeats that a clock or a row begins is what repeats by it: the phase's swing is no part of it.
TEST_F(ClockChannels, AnAverageGoesByAClockOrARow)
{
    document.clocks.push_back({.id = "loop", .source = "a"});
    addRow("each", "period", "a");
    addFormula("by_clock", "average(a, loop, 2)"); // two unit intervals of a clock waveform are its period
    addFormula("by_row", "average(a, each)");
    addRow("one", "peak_to_peak", "by_clock");
    addRow("two", "peak_to_peak", "by_row");
    for (const char *row : {"one", "two"}) {
        ASSERT_TRUE(rowOf(row).reason.empty()) << rowOf(row).reason;
        // A straight clock leaves the swing of 0.05 rad: (0.05)² / 4 of the amplitude, and samples miss the peaks.
        EXPECT_NEAR(*rowOf(row).statistics.mean, 2, 2e-3) << row;
    }
}

TEST_F(ClockChannels, GoInNoCircleThroughARow)
{
    addFormula("course", "trend(each)");
    addRow("each", "period", "course");
    try {
        rowOf("each");
        ADD_FAILURE() << "taken";
    } catch (const Error &error) {
        EXPECT_NE(std::string(error.what()).find("circle"), std::string::npos) << error.what();
    }
}

TEST_F(ClockChannels, SayWhatIsWrongWithWhatTheyName)
{
    addRow("m", "mean", "course");
    addRow("single", "mean", "a");
    addFormula("course", "");
    struct Wrong {
        const char *formula, *where, *says;
    };
    for (const Wrong &wrong : {Wrong{"trend(a)", "character 7", "is of a row"},
                               {"a + trend(single)", "character 5", "no values over time"},
                               {"a + single", "character 5", "no channel, parameter or region"},
                               {"trend(dead)", "row \"dead\"", ""}}) {
        document.measurements.resize(2);
        addRow("dead", "burst_width", "b");
        document.channels.back().formula = wrong.formula;
        const std::string reason = rowOf("m").reason;
        EXPECT_NE(reason.find(wrong.where), std::string::npos) << wrong.formula << ": " << reason;
        EXPECT_NE(reason.find(wrong.says), std::string::npos) << wrong.formula << ": " << reason;
    }
}

TEST(FormulaChannels, ThatGiveNoNumberSaySo)
{
    EXPECT_EQ(unitOf({{"d", "a / (0 * b)"}}, false), "all samples are gaps: check the formula, which gives no number");
}
