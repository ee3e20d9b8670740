// Captures added up one by one, through files and back, in any order and grouping.

#include "atomic_file.h"
#include "engine.h"
#include "fingerprint.h"
#include "part_archive.h"
#include "part_file.h"
#include "results_json.h"
#include "signals.h"
#include "table_project.h"
#include "temporary_folder.h"

#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

namespace fulvex {
namespace {

constexpr double interval = 1e-10;

/// Random data of 8 samples a unit interval with jitter and noise.
std::vector<double> voltsOf(std::uint64_t seed, std::int64_t unitIntervals)
{
    test::DataSpec spec;
    spec.unitIntervals = unitIntervals;
    spec.samplesPerUi = 8;
    spec.randomJitter = 0.01;
    spec.noise = 0.01;
    spec.seed = seed;
    return test::makeData(spec).volts;
}

/// A mask, rows of all kinds, a spectrum, phase noise, a budget.
void fill(test::TableProject &project)
{
    Document &document = project.document;
    document.clocks.push_back({.id = "loop", .source = "a", .method = "pll", .bandwidth = 5e6});
    document.eyes.push_back({.id = "eye1", .source = "a", .clock = "loop"});
    document.masks.push_back({.id = "mask1",
                              .eye = "eye1",
                              .mask = "ieee-802.3-1000base-x",
                              .margin = 0.85}); // which some of the unit intervals fail
    SpectrumEntry spectrum;
    spectrum.id = "lines";
    spectrum.kind = "spectrum";
    spectrum.source = "a";
    document.spectra.push_back(spectrum);
    PhaseNoiseEntry noise;
    noise.id = "noise";
    noise.source = "a";
    document.phaseNoise.push_back(noise);
    BudgetEntry budget;
    budget.id = "budget";
    budget.clock = "loop";
    budget.limit = 0.5;
    document.budgets.push_back(budget);
    for (const char *quantity : {"rise_time", "amplitude"}) project.measure(quantity, "a");
    for (const char *quantity : {"time_interval_error", "total_jitter"}) project.measure(quantity, "a", "loop");
    for (const char *quantity : {"eye_height", "eye_jitter_rms"}) project.measure(quantity, "", "", "eye1");
    document.measurements[0].limit.max = 1e-9;
}

Results captureOf(std::uint64_t seed, std::int64_t unitIntervals = 1500)
{
    test::TableProject project(voltsOf(seed, unitIntervals), interval);
    fill(project);
    Results made = project.evaluate({.fingerprints = true, .mergeable = true});
    EXPECT_EQ(made.firstError(), "");
    made.captures[0].file = "capture " + std::to_string(100 + seed);
    return made;
}

Results summaryOf(const Results &made)
{
    return summaryOf(made, made.captures[0].file);
}

const std::vector<Results> &someCaptures()
{
    static const std::vector<Results> captures = [] {
        std::vector<Results> some;
        for (std::uint64_t seed = 1; seed <= 7; ++seed) some.push_back(captureOf(seed, 1400 + 10 * std::int64_t(seed)));
        return some;
    }();
    return captures;
}

/// Numbers may differ by rounding: of two texts that are alike but for those the largest difference, relative.
double apart(const nlohmann::json &a, const nlohmann::json &b, const std::string &path = "")
{
    if (a.is_number_float() && b.is_number_float()) {
        const double x = a, y = b;
        return x == y ? 0 : std::abs(x - y) / std::max(std::abs(x), std::abs(y));
    }
    EXPECT_EQ(a.type(), b.type()) << path;
    double most = 0;
    if (a.is_object() || a.is_array()) {
        EXPECT_EQ(a.size(), b.size()) << path;
        if (a.size() != b.size()) return 1;
        for (auto one = a.begin(); one != a.end(); ++one) {
            const bool named = a.is_object();
            const std::string key = named ? one.key() : std::to_string(one - a.begin());
            EXPECT_TRUE(!named || b.contains(key)) << path << "." << key;
            if (named && !b.contains(key)) return 1;
            const auto &other = named ? b.at(key) : b.at(std::size_t(one - a.begin()));
            most = std::max(most, apart(*one, other, path + "." + key));
        }
        return most;
    }
    EXPECT_EQ(a, b) << path;
    return 0;
}

nlohmann::json jsonOf(const Results &results)
{
    auto json = nlohmann::json::parse(resultsJson(results, {"", "now"}));
    json.erase("seal"); // of every last bit
    return json;
}

void expectSame(const Results &a, const Results &b)
{
    EXPECT_LT(apart(jsonOf(a), jsonOf(b)), 1e-12);
    EXPECT_EQ(a.eyes[0].fold->picture.counts, b.eyes[0].fold->picture.counts);
    EXPECT_EQ(a.eyes[0].fold->parts, b.eyes[0].fold->parts);
    EXPECT_EQ(a.eyes[0].crossings[0]->parts, b.eyes[0].crossings[0]->parts);
    EXPECT_EQ(a.masks[0].captures, b.masks[0].captures);
    for (std::size_t i = 0; i < a.rows.size(); ++i) {
        EXPECT_EQ(a.rows[i].total->counts, b.rows[i].total->counts);
        EXPECT_EQ(a.rows[i].total->highest, b.rows[i].total->highest);
        // Sums of jitter are added up in the order of the captures: the same to rounding, which was looked at above.
        if (a.rows[i].id != "total_jitter") {
            EXPECT_EQ(a.rows[i].statistics.mean, b.rows[i].statistics.mean) << a.rows[i].id;
        }
    }
}

TEST(RunTally, IsWhatAllCapturesAtOnceGive)
{
    RunTally tally;
    std::int64_t unitIntervals = 0, failed = 0, edges = 0;
    for (const Results &one : someCaptures()) {
        tally.add(summaryOf(one));
        unitIntervals += one.eyes[0].fold->unitIntervals;
        failed += one.masks[0].result->failedUnitIntervals;
        edges += one.rows[0].statistics.count;
    }
    const Results all = tally.results(), once = accumulated(someCaptures()); // populations laid one behind the other
    EXPECT_EQ(all.counted.size(), 7u);
    EXPECT_EQ(all.eyes[0].fold->unitIntervals, unitIntervals);
    EXPECT_EQ(all.masks[0].result->failedUnitIntervals, failed);
    EXPECT_GT(failed, 0);
    EXPECT_EQ(all.rows[0].statistics.count, edges);
    for (std::size_t i = 0; i < all.rows.size(); ++i) {
        const Statistics &a = all.rows[i].statistics, &b = once.rows[i].statistics;
        EXPECT_EQ(a.count, b.count) << all.rows[i].id;
        EXPECT_EQ(a.min, b.min);
        EXPECT_EQ(a.max, b.max);
        EXPECT_NEAR(*a.mean, *b.mean, 1e-12 * std::max(std::abs(*b.min), std::abs(*b.max)));
        if (b.std) {
            EXPECT_NEAR(*a.std / *b.std, 1, 1e-9);
        }
        EXPECT_EQ(all.rows[i].verdict, once.rows[i].verdict);
        EXPECT_THAT(all.rows[i].provenance, testing::Contains(testing::Pair("captures", "7 accumulated")));
    }
    EXPECT_EQ(all.phaseNoise[0].found->records, 7);
    EXPECT_NEAR(all.phaseNoise[0].jitter.value / once.phaseNoise[0].jitter.value, 1, 1e-9);
    ASSERT_FALSE(all.masks[0].result->worst.empty());
    EXPECT_THAT(all.masks[0].result->worst.front().capture, testing::StartsWith("capture 10"));
    EXPECT_EQ(all.rows[0].total->records.size(), 7u);
    EXPECT_THAT(all.rows[0].total->highest.front().capture, testing::StartsWith("capture 10"));
}

TEST(RunTally, PartsAddUpInAnyOrderAndGroupingThroughFiles)
{
    const test::TemporaryFolder folder;
    const Document &document = *someCaptures().front().document;
    RunTally tally;
    for (const Results &one : someCaptures()) tally.add(summaryOf(one));
    const Results all = tally.results();
    std::mt19937 random(3);
    for (int trial = 0; trial < 6; ++trial) {
        std::vector<std::string> files;
        for (const Results &one : someCaptures()) {
            files.push_back(folder / ("part" + std::to_string(files.size())));
            RunTally single;
            single.add(summaryOf(one));
            writePart(files.back(), single.results());
        }
        while (files.size() > 1) {
            std::shuffle(files.begin(), files.end(), random);
            const auto behind = files.begin() + std::ptrdiff_t(std::min<std::size_t>(files.size(), 2 + random() % 3));
            const Results sum = mergedParts({files.begin(), behind}, document, false).results;
            files.erase(files.begin(), behind);
            files.push_back(folder / ("sum" + std::to_string(trial) + "_" + std::to_string(files.size())));
            writePart(files.back(), sum);
        }
        expectSame(mergedParts({files[0]}, document, false).results, all);
    }
}

TEST(RunTally, JitterIsTakenApartOfAllEdges)
{
    RunTally tally;
    for (std::uint64_t seed = 21; seed <= 26; ++seed) tally.add(summaryOf(captureOf(seed, 4000)));
    const Results all = tally.results();
    const BudgetResult &budget = all.budgets[0];
    ASSERT_EQ(budget.reason, "");
    EXPECT_EQ(budget.found->records, 6);
    const double n = double(budget.found->count);
    EXPECT_GT(n, 6 * 1400); // data change at every other boundary, after the loop has settled
    // Of N values the standard deviation scatters by 1 / sqrt(2 N): four times that. Noise of 0.01 on edges of one
    // swing in 0.3 UI, and a loop that follows what is slow, make it a little more or less than what was put in.
    const double put = 0.01 * 8 * interval;
    EXPECT_NEAR(budget.budget.random, put, put * (4 / std::sqrt(2 * n) + 0.12));
    const Row &total = *findEntry(all.rows, all.document->measurements[3].id);
    ASSERT_EQ(total.quantity, "total_jitter");
    ASSERT_TRUE(total.statistics.mean);
    EXPECT_DOUBLE_EQ(*total.statistics.mean, budget.budget.total);
    EXPECT_NEAR(*total.statistics.mean, 14.07 * budget.budget.random, 0.3 * *total.statistics.mean);
    EXPECT_EQ(total.total->records.size(), 6u); // what each gave is known as well
    EXPECT_EQ(budget.verdict, Verdict::pass);
    ASSERT_TRUE(budget.tails);
    EXPECT_NEAR(budget.tails->fit.random, budget.budget.random, 3 * budget.tails->fit.uncertainty() + 0.02 * put);
}

TEST(RunTally, ACaptureCountsOnceUnlessItIsToCountAgain)
{
    const test::TemporaryFolder folder;
    const Document &document = *someCaptures().front().document;
    const auto part = [&](const char *name, std::initializer_list<int> which) {
        RunTally tally;
        for (const int i : which) tally.add(summaryOf(someCaptures()[std::size_t(i)]));
        writePart(folder / name, tally.results());
        return std::filesystem::path(folder / name);
    };
    const auto a = part("a", {0, 1}), again = part("again", {1, 0}), one = part("one", {1}), b = part("b", {3}),
               more = part("more", {3, 4});
    const MergedParts merged = mergedParts({b, one, a, again, more}, document, false);
    EXPECT_THAT(merged.leftOut, testing::UnorderedElementsAre(again, one, b));
    EXPECT_EQ(merged.results.counted.size(), 4u);
    EXPECT_EQ(merged.results.rows[0].total->records.size(), 4u);
    try {
        (void)mergedParts({a, more, part("some", {4, 5})}, document, false);
        ADD_FAILURE() << "counted twice";
    } catch (const Error &error) {
        EXPECT_THAT(error.what(), testing::AllOf(testing::HasSubstr("capture 105"), testing::HasSubstr("more")));
    }
    const auto first = part("first", {0});
    const Results five = mergedParts({first, first, first, first, first}, document, true).results;
    EXPECT_EQ(five.eyes[0].fold->unitIntervals, 5 * someCaptures()[0].eyes[0].fold->unitIntervals);
    EXPECT_EQ(five.rows[0].statistics.count, 5 * someCaptures()[0].rows[0].statistics.count);
}

TEST(RunTally, TenToTheTenthUnitIntervalsAreCounted)
{
    RunTally one;
    one.add(summaryOf(someCaptures()[0]));
    Results sum = one.results();
    const std::int64_t own = sum.eyes[0].fold->unitIntervals;
    // What 10^7 captures would be, without their records: the eye and the mask, twice as much each time.
    int doubled = 0;
    for (; own << doubled < 10'000'000'000; ++doubled) {
        EyeFold twice = EyeFold::merged({sum.eyes[0].fold.get(), sum.eyes[0].fold.get()});
        twice.parts = {twice.sum};
        twice.stretches.clear();
        MaskResult mask = *sum.masks[0].result;
        mask.merge(*sum.masks[0].result);
        sum.eyes[0].fold = std::make_shared<const EyeFold>(std::move(twice));
        sum.masks[0].result = std::make_shared<const MaskResult>(std::move(mask));
    }
    const std::vector<Results> alone = someCaptures();
    const EyeFold &fold = *sum.eyes[0].fold, first = EyeFold::merged({alone[0].eyes[0].fold.get()});
    EXPECT_EQ(fold.unitIntervals, own << doubled);
    for (std::size_t cell = 0; cell < first.picture.counts.size(); ++cell)
        ASSERT_EQ(fold.picture.counts[cell], first.picture.counts[cell] << doubled);
    EXPECT_EQ(fold.one().count, std::ldexp(first.one().count, doubled)); // whole numbers below 2^53
    EXPECT_NEAR(fold.one().mean, first.one().mean, 1e-12);
    EXPECT_NEAR(fold.one().std() / first.one().std(), 1, 1e-3); // n - 1
    EXPECT_EQ(sum.masks[0].result->failedUnitIntervals,
              someCaptures()[0].masks[0].result->failedUnitIntervals << doubled);
}

TEST(RunTally, WhatCannotBeReadIsToldAndCountsForNothing)
{
    RunTally tally;
    tally.add(summaryOf(someCaptures()[0]));
    Results unread = someCaptures()[1];
    unread.captures[0].error = "torn.npy: ends too soon";
    tally.leaveOut(unread);
    const Results all = tally.results();
    EXPECT_EQ(all.counted.size(), 1u);
    ASSERT_EQ(all.captures.size(), 2u);
    EXPECT_EQ(all.firstError(), "torn.npy: ends too soon");
    EXPECT_EQ(all.rows[0].statistics.count, someCaptures()[0].rows[0].statistics.count);
}

TEST(PartFile, RefusesWhatIsNoPartOfThisProject)
{
    const test::TemporaryFolder folder;
    const Document &document = *someCaptures().front().document;
    RunTally tally;
    tally.add(summaryOf(someCaptures()[0]));
    const auto path = folder / "one.part";
    writePart(path, tally.results());
    const auto refusal = [&](const Document &by) -> std::string {
        try {
            readPart(path, by);
            return "read";
        } catch (const Error &error) {
            return error.what();
        }
    };
    EXPECT_EQ(refusal(document), "read");
    Document another = document;
    another.captures[0].file = "elsewhere.npy"; // captures are what changes
    EXPECT_EQ(refusal(another), "read");
    another.measurements[0].limit.max = 2e-9;
    EXPECT_THAT(refusal(another), testing::HasSubstr("another project"));
    std::string bytes = readTextFile(path);
    const auto write = [&](const std::string &some) { std::ofstream(path, std::ios::binary) << some; };
    write(bytes.substr(0, bytes.size() - 5));
    EXPECT_THAT(refusal(document), testing::HasSubstr("damaged"));
    write(bytes.substr(0, 30));
    EXPECT_THAT(refusal(document), testing::HasSubstr("ends too soon"));
    bytes[bytes.size() / 2] ^= 1;
    write(bytes);
    EXPECT_THAT(refusal(document), testing::HasSubstr("damaged"));
    write("no part");
    EXPECT_THAT(refusal(document), testing::HasSubstr("is no part"));
}

TEST(PartFile, BelievesNoBytes)
{
    // Whatever bytes say, with the right hash: an error, or results that can be added up; never the program's end.
    RunTally tally;
    tally.add(summaryOf(captureOf(1, 300)));
    const test::TemporaryFolder folder;
    const auto path = folder / "one.part";
    const Results results = tally.results();
    const Document &document = *results.document;
    writePart(path, results);
    const std::string bytes = readTextFile(path);
    const std::string heading = bytes.substr(0, bytes.find('\n') + 1);
    const std::size_t body = heading.size() + 65;
    std::mt19937 random(11);
    int refused = 0, read = 0;
    for (int trial = 0; trial < 300; ++trial) {
        std::string torn = bytes.substr(body);
        for (unsigned i = 0; i <= random() % 3; ++i) torn[random() % torn.size()] = char(random());
        if (trial % 5 == 0) torn.resize(random() % torn.size());
        std::ofstream(path, std::ios::binary) << heading << sha256(torn) << "\n" << torn;
        try {
            (void)resultsJson(mergedParts({path}, document, false).results, {"", "now"});
            ++read;
        } catch (const Error &) {
            ++refused;
        }
    }
    EXPECT_GT(refused, 60);
    EXPECT_GT(read, 20);
}

TEST(PartArchive, GivesBackWhatItWasGiven)
{
    std::vector<std::int64_t> numbers{0, -1, 1, 63, -64, 64, INT64_MAX, INT64_MIN};
    std::vector<std::uint64_t> counts{0, 127, 128, UINT64_MAX};
    std::optional<double> some = -0.0, none;
    std::string words = "µV\0x";
    int small = -7;
    bool yes = true;
    PartWriter to;
    to(numbers, counts, some, none, words, small, yes);
    PartReader from(to.bytes(), "here");
    std::vector<std::int64_t> numbersBack;
    std::vector<std::uint64_t> countsBack;
    std::optional<double> someBack, noneBack = 1;
    std::string wordsBack;
    int smallBack = 0;
    bool yesBack = false;
    from(numbersBack, countsBack, someBack, noneBack, wordsBack, smallBack, yesBack);
    EXPECT_TRUE(from.atEnd());
    EXPECT_EQ(numbersBack, numbers);
    EXPECT_EQ(countsBack, counts);
    EXPECT_TRUE(std::signbit(*someBack));
    EXPECT_FALSE(noneBack);
    EXPECT_EQ(wordsBack, words);
    EXPECT_EQ(smallBack, -7);
    EXPECT_TRUE(yesBack);
    PartReader again(to.bytes(), "here");
    std::vector<std::string> wrong;
    EXPECT_THROW(again(wrong, wrong, wrong), Error);
}

} // namespace
} // namespace fulvex
