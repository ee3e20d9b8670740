// What cannot be measured says why, and what to do.

#include "signals.h"
#include "table_project.h"

#include <cmath>
#include <functional>
#include <gmock/gmock.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

std::vector<double> made(std::size_t count, const std::function<double(double)> &value)
{
    std::vector<double> values(count);
    for (std::size_t i = 0; i < count; ++i) values[i] = value(double(i));
    return values;
}

double ramp(double along)
{
    return std::clamp(along, 0.0, 1.0);
}

const auto square = [](double t) {
    const double at = std::fmod(t, 100);
    return ramp((at - 20) / 8) - ramp((at - 70) / 8);
};

/// Reasons of the timing rows of a signal.
std::vector<std::string> reasonsOf(
    const std::vector<double> &values, const std::function<void(Document &)> &change = [](Document &) {})
{
    test::TableProject project(values, 1e-9);
    for (const char *quantity :
         {"rise_time", "positive_width", "period", "frequency", "duty_cycle", "settling_time", "overshoot_rising"})
        project.measure(quantity, "a");
    change(project.document);
    std::vector<std::string> reasons;
    for (const Row &row : project.evaluate().rows) {
        EXPECT_FALSE(row.measurable()) << row.id;
        EXPECT_FALSE(row.statistics.mean) << row.id;
        reasons.push_back(row.reason);
    }
    return reasons;
}

} // namespace

TEST(Reasons, EachSaysWhatIsAndWhatWouldHelp)
{
    for (const std::string &reason : reasonsOf(std::vector<double>(2000, 0.5)))
        EXPECT_THAT(reason, HasSubstr("is constant")) << "constant";
    const auto gaps = reasonsOf(made(2000, square), [](Document &document) {
        document.channels.push_back({.id = "g", .formula = "sqrt(-1 - a * a)"});
        for (MeasurementEntry &row : document.measurements) row.source = "g";
    });
    for (const std::string &reason : gaps) EXPECT_THAT(reason, HasSubstr("all samples are gaps"));
    const auto outside = reasonsOf(made(2000, square), [](Document &document) {
        LevelsEntry levels;
        levels.id = "far";
        levels.kind = "absolute";
        levels.low = 2, levels.mid = 3, levels.high = 4;
        document.levels.push_back(levels);
        for (MeasurementEntry &row : document.measurements) row.levels = "far";
    });
    for (const std::string &reason : outside)
        EXPECT_THAT(reason, testing::AllOf(HasSubstr("3.000 V"), HasSubstr("lies outside of a"), HasSubstr("choose")));
    const auto beyond = reasonsOf(made(2000, square), [](Document &document) {
        document.regions.push_back({"late", 1, 2}); // s: the record is 2 us long
        for (MeasurementEntry &row : document.measurements) row.region = "late";
    });
    for (const std::string &reason : beyond) EXPECT_THAT(reason, HasSubstr("late"));
}

TEST(Reasons, OneEdgeIsARiseTimeAndNoPeriod)
{
    test::TableProject project(made(2000, [](double t) { return ramp((t - 900) / 20); }), 1e-9);
    for (const char *quantity : {"rise_time", "period", "positive_width", "duty_cycle", "counted_frequency"})
        project.measure(quantity, "a");
    const Results results = project.evaluate();
    EXPECT_NEAR(*results.rows[0].statistics.mean, 16e-9, 0.1e-9);
    EXPECT_EQ(results.rows[0].statistics.count, 1);
    for (std::size_t i = 1; i < results.rows.size(); ++i)
        EXPECT_THAT(results.rows[i].reason, testing::AllOf(HasSubstr("1 crossing "), HasSubstr("widen the region")));
}

TEST(Reasons, ATriggerWithFewerEdgesLeavesTheOthersOut)
{
    test::TableProject project(made(10000, [](double t) { return square(t) * (std::fmod(t, 200) < 100 ? 1 : 0.6); }),
                               1e-9);
    project.document.channels.push_back({.id = "t", .formula = "max(a - 0.7, 0)"}); // every second pulse
    project.document.measurements.push_back(
        {.id = "trigger_jitter", .quantity = "trigger_jitter", .source = "a", .to = "t"});
    const Results results = project.evaluate();
    ASSERT_TRUE(results.rows[0].measurable()) << results.rows[0].reason;
    const auto paired = std::find_if(results.rows[0].provenance.begin(), results.rows[0].provenance.end(),
                                     [](const auto &fact) { return fact.first == "paired"; });
    ASSERT_NE(paired, results.rows[0].provenance.end());
    EXPECT_THAT(paired->second, HasSubstr("50 of 100 edges of a"));
}

TEST(Interpolation, ARowTakesTheInstantsItAsksFor)
{
    // Four samples an edge: straight lines read longer, the sinc does not.
    const auto smooth = made(20000, [](double t) {
        const double at = std::fmod(t, 61.7), edge = 4 / 0.5903;
        const auto step = [&](double from) {
            return 0.5 + 0.5 * std::sin(M_PI * std::clamp((at - from) / edge, -0.5, 0.5));
        };
        return step(15) - step(45);
    });
    std::map<std::string, double> found;
    for (const char *how : {"auto", "linear", "sinc"}) {
        test::TableProject project(smooth, 1e-9);
        project.measure("rise_time", "a");
        project.document.measurements[0].interpolate = how;
        const Results results = project.evaluate();
        found[how] = *results.rows[0].statistics.mean;
        const auto said = [&](const char *words) {
            return std::any_of(results.rows[0].provenance.begin(), results.rows[0].provenance.end(),
                               [&](const auto &fact) { return fact.second.find(words) != std::string::npos; });
        };
        EXPECT_TRUE(said(std::string_view(how) == "linear" ? "straight line" : "windowed sinc")) << how;
    }
    EXPECT_EQ(found["auto"], found["sinc"]);
    EXPECT_NEAR(found["sinc"], 4e-9, 0.03e-9);
    EXPECT_NEAR(found["linear"], 4.11e-9, 0.05e-9); // 2.7 % more, see docs/architecture.md
}

/// Rows of instants say where edges are so steep that these stray with where the samples lie, a clock's as well.
TEST(Interpolation, TooSteepEdgesAreSaid)
{
    for (const double edge : {0.3, 4.0}) {
        test::TableProject project(made(20000,
                                        [&](double t) {
                                            const double at = std::fmod(t, 61.7);
                                            return ramp((at - 15) / edge + 0.5) - ramp((at - 45) / edge + 0.5);
                                        }),
                                   1e-9);
        project.document.clocks.push_back({.id = "ck", .source = "a", .method = "fixed"});
        for (const char *quantity : {"period", "time_interval_error"}) project.measure(quantity, "a");
        project.document.measurements[1].clock = "ck";
        for (const Row &row : project.evaluate().rows) {
            ASSERT_TRUE(row.measurable()) << row.reason;
            const auto instants =
                std::ranges::find(row.provenance, "instants", [](const auto &fact) { return fact.first; });
            ASSERT_NE(instants, row.provenance.end());
            EXPECT_EQ(instants->second.find("stray") != std::string::npos, edge < 1) << instants->second;
            EXPECT_THAT(instants->second, HasSubstr("windowed sinc"));
        }
    }
}

TEST(Levels, ASettingThatMeansNothingToARowChangesNothing)
{
    test::TableProject project(made(5000, square), 1e-9);
    project.measure("rise_time", "a");
    project.document.measurements.push_back(project.document.measurements[0]);
    project.document.measurements[1].id = "other";
    project.document.measurements[1].at = 5;
    const Results results = project.evaluate();
    EXPECT_EQ(results.rows[0].statistics.mean, results.rows[1].statistics.mean);
    EXPECT_EQ(results.rows[0].provenance, results.rows[1].provenance);
}

TEST(Levels, WidthsAreToldAtAnyLevel)
{
    // Ramps of 20 samples, 40 wide at half height: 40 + 40 (0.5 - p) samples at p of the height.
    test::TableProject project(made(5000,
                                    [](double t) {
                                        const double at = std::fmod(t, 100);
                                        return ramp((at - 20) / 20) - ramp((at - 60) / 20);
                                    }),
                               1e-9);
    for (const double percent : {30.0, 50.0, 70.0}) {
        project.measure("positive_width", "a");
        project.document.measurements.back().id = "w" + std::to_string(int(percent));
        project.document.measurements.back().at = percent;
    }
    const Results results = project.evaluate();
    for (const double percent : {30.0, 50.0, 70.0}) {
        const Row &row = *findEntry(results.rows, "w" + std::to_string(int(percent)));
        EXPECT_NEAR(*row.statistics.mean, (40 + 40 * (0.5 - percent / 100)) * 1e-9, 0.05e-9) << percent;
    }
}
