// Rows over several periods, of a clock whose periods are known.

#include "table_project.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>

using namespace fulvex;

/// Its period grows by a hundredth at one of its rising edges: each period before it is as long as the others there,
/// and each behind it; three periods less the three before them are zero but across the step, where they rise to three
/// times what it grew by and fall again. Crossings of a sine of 20 samples a period are found to a thousandth of a
/// sample (the step bends it at the very crossing by a hundredth of its slope), so sums of six to a hundredth.
TEST(StabilityRows, AStepOfThePeriodIsSeenOverAsManyPeriodsAsAreAsked)
{
    constexpr double before = 20.3, after = 20.5, interval = 1e-10; // samples, s
    constexpr int periods = 200;
    const double step = periods * before, known = 0.01;
    std::vector<double> volts(std::size_t(step + periods * after));
    for (std::size_t i = 0; i < volts.size(); ++i) {
        const double at = double(i), phase = at < step ? at / before : periods + (at - step) / after;
        volts[i] = std::sin(2 * std::numbers::pi * phase);
    }
    for (const std::int64_t cycles : {1, 2, 3, 7}) {
        SCOPED_TRACE(cycles);
        test::TableProject project(volts, interval);
        for (const char *quantity : {"period", "accumulated_jitter", "n_cycle_jitter"}) {
            project.measure(quantity, "a");
            if (quantity != std::string("period")) project.document.measurements.back().cycles = int(cycles);
        }
        const Results results = project.evaluate();
        const auto row = [&](const char *id) { return *findEntry(results.rows, id); };
        const std::int64_t all = row("period").statistics.count;
        ASSERT_GE(all, 2 * periods - 3);
        const double grown = double(cycles) * (after - before);
        const Row jitter = row("n_cycle_jitter"), sum = row("accumulated_jitter");
        EXPECT_EQ(jitter.statistics.count, all - 2 * cycles + 1);
        EXPECT_NEAR(*jitter.statistics.max / interval, grown, known);
        EXPECT_NEAR(*jitter.statistics.min / interval, 0, known);
        const Population &told = jitter.measured->population;
        std::size_t most = 0;
        for (std::size_t i = 0; i < told.size(); ++i)
            if (told.value[i] > told.value[most]) most = i;
        EXPECT_NEAR(told.position[most], step, known); // where the second three begin
        EXPECT_NEAR(told.span[most], double(cycles) * after, known);
        EXPECT_EQ(sum.statistics.count, all - cycles + 1);
        EXPECT_NEAR((*sum.statistics.max - *sum.statistics.min) / interval, grown, known);
        EXPECT_NEAR(*sum.statistics.mean / interval, 0, 1e-6);
    }
}
