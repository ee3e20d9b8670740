#include "engine.h"
#include "npy_header.h"
#include "quantity_rows.h"
#include "signals.h"
#include "temporary_folder.h"
#include "two_columns.h"
#include "units.h"

#include <cmath>
#include <gtest/gtest.h>
#include <map>

using namespace fulvex;

namespace {

using test::ns;

/// Trapezoids, two by two with quiet behind them, in steps of 1/128 V; the second channel's are 11 samples later and
/// slower.
std::string twoChannels(int bursts)
{
    test::Gaussian random(11);
    std::vector<std::int16_t> steps;
    for (int i = 0; i < 600 * bursts + 300; ++i) {
        for (const double ramp : {16.0, 24.0}) {
            const double late = ramp == 16 ? 0 : 11.3;
            double level = 0;
            for (int burst = 0; burst < bursts; ++burst) {
                for (const double at : {320.0, 460.0}) {
                    const double from = i - (600 * burst + at + late);
                    level += std::clamp(from / ramp, 0.0, 1.0) - std::clamp((from - 61.7) / ramp, 0.0, 1.0);
                }
            }
            steps.push_back(std::int16_t(std::lround((level + 0.01 * random()) * 128)));
        }
    }
    return npyHeader("<i2", std::int64_t(steps.size() / 2), 2) +
           std::string(reinterpret_cast<const char *>(steps.data()), steps.size() * sizeof steps[0]);
}

/// Rows of all quantities of channels, by name.
std::map<std::string, Row> rowsOf(int bursts)
{
    Document document = test::twoColumns(ns, 1.0 / 128);
    for (const auto group : {levelQuantities(), timingQuantities(), pulseQuantities(), pairQuantities()}) {
        for (const Quantity &quantity : group.quantities) {
            MeasurementEntry row = test::rowOf(quantity, {"a", "b", "", ""});
            if (row.gap) row.gap = 200 * ns;
            if (quantity.takes("band")) row.band = 10;
            document.measurements.push_back(row);
        }
    }
    const test::TemporaryFolder folder;
    folder.write("a.npy", twoChannels(bursts));
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    std::map<std::string, Row> rows;
    for (const Row &row : engine.evaluate(document, folder.path(), {}, progress).rows) rows[row.id] = row;
    return rows;
}

const UncertaintyPart *partOf(const Row &row, const std::string &from)
{
    for (const UncertaintyPart &part : row.statistics.parts) {
        if (part.from == from) return &part;
    }
    return nullptr;
}

} // namespace

TEST(Uncertainty, IsToldOfEveryMeanAndOfEverySingleValue)
{
    for (const int bursts : {1, 40}) {
        for (const auto &[name, row] : rowsOf(bursts)) {
            if (!row.reason.empty()) continue;
            ASSERT_TRUE(row.statistics.uncertainty) << name << ", bursts: " << bursts;
            double squares = 0;
            for (const UncertaintyPart &part : row.statistics.parts) squares += part.value * part.value;
            EXPECT_FLOAT_EQ(float(std::sqrt(squares)), float(*row.statistics.uncertainty)) << name;
            // What is counted is certain, and jitter's mean is 0 by itself.
            const bool counted = row.unit.empty() || name == "trigger_jitter";
            EXPECT_TRUE(counted || *row.statistics.uncertainty > 0) << name << ", bursts: " << bursts;
        }
    }
}

/// Where it is an instant that is measured, or a place between two, all that may shift it is named.
TEST(Uncertainty, NamesItsParts)
{
    const auto many = rowsOf(40), few = rowsOf(1);
    for (const char *name : {"rise_time", "fall_time", "positive_width", "negative_width", "duty_cycle",
                             "slew_rate_rising", "slew_rate_falling", "settling_time", "peak_time", "slope_at_mid",
                             "delay", "phase", "setup_time", "hold_time", "device_rise_time", "burst_width"}) {
        for (const char *part : {"levels", "quantisation", "interpolation"}) {
            ASSERT_TRUE(partOf(many.at(name), part)) << name << " " << part;
            EXPECT_GE(partOf(many.at(name), part)->value, 0) << name << " " << part;
        }
        EXPECT_TRUE(partOf(many.at(name), "scatter")) << name;
        ASSERT_EQ(few.at(name).reason, "") << name;
        ASSERT_TRUE(partOf(few.at(name), "noise")) << name;
        EXPECT_GT(partOf(few.at(name), "noise")->value, 0) << name;
    }
    for (const char *name : {"rise_time", "slew_rate_rising", "settling_time", "setup_time", "delay"}) {
        EXPECT_GT(partOf(many.at(name), "levels")->value, 0) << name;
        EXPECT_GT(partOf(many.at(name), "quantisation")->value, 0) << name;
    }
}

/// Levels in the unit do not move with the states; a straight edge's slope does not change with them.
TEST(Uncertainty, OfLevelsIsThatOfWhatTheyStandOn)
{
    const auto rows = rowsOf(40);
    const Row &rise = rows.at("rise_time"), &slew = rows.at("slew_rate_rising");
    const double riseShare = partOf(rise, "levels")->value / *rise.statistics.mean,
                 slewShare = partOf(slew, "levels")->value / *slew.statistics.mean;
    EXPECT_LT(slewShare, 0.2 * riseShare);
}
