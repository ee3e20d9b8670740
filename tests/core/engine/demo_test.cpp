// The demo against the truth that its generator wrote beside it.

#include "document_json.h"
#include "engine.h"
#include "evidence.h"
#include "temporary_folder.h"

#include <cmath>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace fulvex;

TEST(Demo, TellsItsStoryInNumbers)
{
    const std::filesystem::path folder = FULVEX_DEMO;
    const auto truth = nlohmann::json::parse(test::readAll(folder / "captures" / "camera-link.truth.json"));
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    const Results results = engine.evaluate(loadDocument(folder / "brackwater.fulvex"), folder, {}, progress);
    ASSERT_EQ(results.firstError(), "");
    const auto row = [&](const char *id) -> const Row & { return *findEntry(results.rows, id); };

    const Row &rate = row("rate"); // the wander hides the rate to what its uncertainty says
    EXPECT_NEAR(*rate.statistics.mean, truth["symbol_rate"].get<double>(), 3 * *rate.statistics.uncertainty);
    EXPECT_LT(*rate.statistics.uncertainty, 5e-6 * *rate.statistics.mean);
    // A fixed clock leaves the wander: 880 ps pp and what the jitter adds.
    const Row &wrong = row("tie_ideal");
    const double wander = truth["wander_pp"];
    EXPECT_GT(*wrong.statistics.max - *wrong.statistics.min, wander);
    // A sinusoid's rms about a fitted line of four cycles is a little below pp / sqrt(8).
    EXPECT_NEAR(*wrong.statistics.std, wander / std::sqrt(8.0), 0.05 * wander / std::sqrt(8.0));

    const MaskRun &smeared = *findEntry(results.masks, "mask_smeared"), &mask = *findEntry(results.masks, "mask"),
                  &fixed = *findEntry(results.masks, "mask2");
    EXPECT_GT(smeared.result->failedUnitIntervals, 1000);
    EXPECT_EQ(mask.result->failedUnitIntervals, 1); // the dent and nothing else
    EXPECT_EQ(mask.result->failures[0].unitInterval, truth["dented_bit"].get<std::int64_t>());
    EXPECT_NEAR(mask.result->failures[0].worstTime, truth["dent_time"].get<double>(), 0.25e-9);
    EXPECT_EQ(mask.verdict, Verdict::fail);
    EXPECT_EQ(fixed.result->failedUnitIntervals, 0);
    EXPECT_GT(*fixed.result->margin, 0.3);
    EXPECT_GT(*row("width2").statistics.mean, *row("width").statistics.mean);
    // The window lies where it is, and of the pattern's repeats one has it, in one of its bits.
    EXPECT_EQ(findEntry(results.masks, "mask_window")->result->failedUnitIntervals, 1);
    const EyeResult &repeats = *findEntry(results.eyes, "repeats");
    EXPECT_EQ(repeats.rule.laps.each, truth["pattern_bits"].get<std::int64_t>());
    const std::int64_t bit = truth["dented_bit"].get<std::int64_t>() % repeats.rule.laps.each;
    Question middle{.id = "repeats"};
    for (std::int64_t n = repeats.rule.laps.from; n < repeats.rule.laps.from + repeats.rule.laps.lasts; ++n) {
        middle.phases = {double(n) + 0.45, double(n) + 0.55};
        middle.values = {-0.15, 0.15};
        const Evidence there = evidenceFor(results, middle, 10, progress);
        ASSERT_EQ(there.count, n == bit) << n;
        EXPECT_TRUE(n != bit || std::abs(there.items[0].time - truth["dent_time"].get<double>()) < 0.3e-9);
    }
}

TEST(Demo, TheTextTwinGivesTheSameSamples)
{
    const std::filesystem::path folder = FULVEX_DEMO;
    Engine engine(FULVEX_SHIPPED_MASKS);
    Document document = loadDocument(folder / "brackwater.fulvex");
    Document twin = document;
    twin.captures[0].file = "captures/camera-link.csv";
    twin.captures[0].import = {};
    for (const char *id : {"p", "n"}) findEntry(twin.channels, id)->scale = 1;
    Progress progress;
    const Results a = engine.evaluate(document, folder, {}, progress), b = engine.evaluate(twin, folder, {}, progress);
    for (const char *id : {"tr", "tie", "height"})
        EXPECT_NEAR(*findEntry(a.rows, id)->statistics.mean / *findEntry(b.rows, id)->statistics.mean, 1, 1e-3) << id;
}
