// A run as it goes on: captures that come, limits that change, one that is left out.

#include "document_json.h"
#include "error.h"
#include "npy_files.h"
#include "part_file.h"
#include "run_gathering.h"
#include "run_overview.h"
#include "signals.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

using Names = std::vector<std::string>;
namespace fs = std::filesystem;

class RunGatheringOf : public testing::Test {
protected:
    RunGatheringOf()
    {
        fs::create_directory(folder / "night");
        for (int i = 1; i <= 5; ++i) capture(i);
        document = parseDocument(R"({"fulvex": 1,
            "captures": [{"id": "r", "file": "night/c1.npy", "import": {"sample_interval": 1e-10},
                          "run": {"files": "night"}}],
            "channels": [{"id": "a", "capture": "r"}],
            "clocks": [{"id": "loop", "source": "a", "method": "pll", "order": 2, "bandwidth": 5e6}],
            "eyes": [{"id": "eye1", "source": "a", "clock": "loop"}],
            "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x", "margin": 0.5}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"},
                             {"id": "amp", "quantity": "amplitude", "source": "a"}]})",
                                 "test");
    }
    /// The higher the number the more noise; 9: so much that the mask fails.
    void capture(int number) const
    {
        test::DataSpec spec;
        spec.unitIntervals = 1200;
        spec.samplesPerUi = 8;
        spec.noise = number == 9 ? 0.12 : 0.005 + 0.001 * number;
        spec.seed = std::uint64_t(number);
        test::writeNpy(folder / ("night/c" + std::to_string(number) + ".npy"), test::makeData(spec).volts);
    }
    void settle() const // as if written long ago
    {
        const auto then = fs::file_time_type::clock::now() - std::chrono::hours(1);
        for (const auto &file : fs::directory_iterator(folder / "night")) fs::last_write_time(file.path(), then);
    }
    /// Follows the document, and counts all that is there; which were computed.
    Names gather()
    {
        run.follow(document, folder.path());
        run.look();
        return count();
    }
    Names count()
    {
        Names made;
        Progress progress;
        while (run.hasNext())
            run.takeNext(progress, [&](const RunMember &member, const Results &) { made.push_back(member.name); });
        return made;
    }
    /// By another one that begins now.
    Results anew() const
    {
        RunGathering fresh(FULVEX_SHIPPED_MASKS);
        fresh.follow(document, folder.path());
        fresh.look();
        Progress progress;
        while (fresh.hasNext()) fresh.takeNext(progress);
        return *fresh.all();
    }
    static void expectSame(const Results &a, const Results &b)
    {
        EXPECT_EQ(a.counted, b.counted);
        ASSERT_EQ(a.rows.size(), b.rows.size());
        for (std::size_t i = 0; i < a.rows.size(); ++i) {
            EXPECT_EQ(a.rows[i].statistics.mean, b.rows[i].statistics.mean) << a.rows[i].id;
            EXPECT_EQ(a.rows[i].statistics.count, b.rows[i].statistics.count) << a.rows[i].id;
            EXPECT_EQ(a.rows[i].verdict, b.rows[i].verdict) << a.rows[i].id;
        }
        EXPECT_EQ(a.masks[0].captures, b.masks[0].captures);
        EXPECT_EQ(a.eyes[0].fold->picture.counts, b.eyes[0].fold->picture.counts);
    }
    test::TemporaryFolder folder;
    Document document;
    RunGathering run{FULVEX_SHIPPED_MASKS};
};

TEST_F(RunGatheringOf, CountsEachOnceAndGoesOnWhenMoreAreThere)
{
    EXPECT_FALSE(run.all());
    EXPECT_EQ(gather(), (Names{"night/c1.npy", "night/c2.npy", "night/c3.npy", "night/c4.npy", "night/c5.npy"}));
    EXPECT_EQ(gather(), Names{});
    capture(7);
    EXPECT_EQ(gather(), Names{"night/c7.npy"});
    ASSERT_TRUE(run.all());
    EXPECT_EQ(run.all()->counted.size(), 6u);
    expectSame(*run.all(), anew());
}

TEST_F(RunGatheringOf, LimitsJudgeWhatIsCounted)
{
    gather();
    const double mean = *run.all()->rows[0].statistics.mean;
    EXPECT_EQ(run.failed(), 0u);
    document.measurements[0].limit.max = mean / 2;
    EXPECT_EQ(gather(), Names{}); // nothing is computed anew
    EXPECT_EQ(run.all()->rows[0].verdict, Verdict::fail);
    EXPECT_EQ(run.failed(), 5u);
    expectSame(*run.all(), anew());
    document.measurements[0].limit = {};
    EXPECT_EQ(gather(), Names{});
    EXPECT_EQ(run.failed(), 0u);
    document.title = "another";
    EXPECT_EQ(gather(), Names{});
}

TEST_F(RunGatheringOf, OtherNumbersBeginAnew)
{
    gather();
    document.clocks[0].bandwidth = 4e6;
    EXPECT_EQ(gather().size(), 5u);
    document.captures[0].file = "night/c3.npy"; // which is shown is no matter
    EXPECT_EQ(gather().size(), 0u);
    expectSame(*run.all(), anew());
}

TEST_F(RunGatheringOf, OneIsLeftOutAndTakenBack)
{
    gather();
    const Results before = *run.all();
    document.captures[0].run.leftOut["night/c2.npy"] = "the probe fell off";
    EXPECT_EQ(gather().size(), 4u); // without it
    EXPECT_EQ(run.members().size(), 5u);
    EXPECT_EQ(run.members()[1].leftOut, "the probe fell off");
    EXPECT_EQ(run.all()->counted.size(), 4u);
    expectSame(*run.all(), anew());
    document.captures[0].run.leftOut.clear();
    EXPECT_EQ(gather(), Names{"night/c2.npy"}); // it alone
    expectSame(*run.all(), before);
}

TEST_F(RunGatheringOf, ACancelledOneIsTheNextStill)
{
    run.follow(document, folder.path());
    run.look();
    Progress progress, cancelled;
    run.takeNext(progress);
    cancelled.cancel();
    EXPECT_THROW(run.takeNext(cancelled), Cancelled);
    EXPECT_EQ(count().front(), "night/c2.npy");
    expectSame(*run.all(), anew());
}

TEST_F(RunGatheringOf, OneThatCannotBeReadIsTold)
{
    folder.write("night/c3.npy", "\x93NUMPY torn");
    gather();
    EXPECT_EQ(run.counted().size(), 4u);
    ASSERT_TRUE(run.unread().contains("night/c3.npy"));
    EXPECT_THAT(run.unread().at("night/c3.npy"), testing::HasSubstr("c3.npy"));
    const auto lines = overviewOf(*run.all());
    ASSERT_EQ(lines.size(), 5u);
    EXPECT_EQ(std::min_element(lines.begin(), lines.end(), isWorse)->capture, "night/c3.npy");
}

TEST_F(RunGatheringOf, AMaskThatOneCaptureCannotBeTestedByHasNotPassed)
{
    test::writeNpy(folder / "night/c2.npy", std::vector<double>(9600, 0.3)); // no edges
    gather();
    EXPECT_EQ(run.failed(), 1u);
    EXPECT_EQ(run.all()->masks[0].verdict, Verdict::fail);
    EXPECT_NE(run.all()->masks[0].reason, "");
    for (const int number : {6, 7, 8}) { // however many are added behind it
        capture(number);
        gather();
        EXPECT_EQ(run.all()->masks[0].verdict, Verdict::fail);
    }
}

TEST_F(RunGatheringOf, EndsAtSoManyFailures)
{
    for (const int number : {6, 7, 8}) capture(number);
    capture(9);
    fs::rename(folder / "night/c9.npy", folder / "night/c3.npy");
    document.captures[0].run.stopAt = 1;
    EXPECT_EQ(gather().size(), 3u);
    EXPECT_TRUE(run.ended());
    EXPECT_EQ(run.failed(), 1u);
    EXPECT_EQ(run.all()->masks[0].verdict, Verdict::fail);
    document.captures[0].run.stopAt = 2;
    EXPECT_EQ(gather().size(), 5u); // goes on
    EXPECT_FALSE(run.ended());
    // Of a run that a limit would have ended before, only so many count.
    document.measurements[0].limit.max = 1e-15;
    EXPECT_EQ(gather().size(), 2u);
    EXPECT_TRUE(run.ended());
}

/// Beside the run a capture that is the same each time, of which a limit, a mask and a budget fail.
class RunBesideAReference : public RunGatheringOf {
protected:
    RunBesideAReference()
    {
        test::DataSpec spec;
        spec.unitIntervals = 1300;
        spec.samplesPerUi = 8;
        spec.noise = 0.12;
        spec.randomJitter = 0.02;
        spec.seed = 99;
        test::writeNpy(folder / "ref.npy", test::makeData(spec).volts);
        const Document own = parseDocument(R"({"fulvex": 1,
            "captures": [{"id": "ref", "file": "ref.npy", "import": {"sample_interval": 1e-10}}],
            "channels": [{"id": "b", "capture": "ref"}],
            "clocks": [{"id": "its_loop", "source": "b", "method": "pll", "order": 2, "bandwidth": 5e6}],
            "eyes": [{"id": "its_eye", "source": "b", "clock": "its_loop"}],
            "masks": [{"id": "its_mask", "eye": "its_eye", "mask": "ieee-802.3-1000base-x"}],
            "spectra": [{"id": "its_lines", "kind": "spectrum", "source": "b"}],
            "budgets": [{"id": "its_budget", "clock": "its_loop", "limit": 1e-6}],
            "phase_noise": [{"id": "its_noise", "source": "b"}],
            "measurements": [{"id": "its_tr", "quantity": "rise_time", "source": "b", "limit": {"max": 1e-15}},
                             {"id": "its_tie", "quantity": "time_interval_error", "source": "b", "clock": "its_loop"},
                             {"id": "its_tj", "quantity": "total_jitter", "source": "b", "clock": "its_loop"},
                             {"id": "its_height", "quantity": "eye_height", "eye": "its_eye"}]})",
                                           "test");
        const auto add = [](auto &list, const auto &more) { list.insert(list.end(), more.begin(), more.end()); };
        add(document.captures, own.captures);
        add(document.channels, own.channels);
        add(document.clocks, own.clocks);
        add(document.eyes, own.eyes);
        add(document.masks, own.masks);
        add(document.spectra, own.spectra);
        add(document.budgets, own.budgets);
        add(document.phaseNoise, own.phaseNoise);
        add(document.measurements, own.measurements);
    }
    /// What the reference gives by itself, counted once.
    Results alone() const
    {
        Document one = document;
        one.captures[0].run = {};
        Engine engine(FULVEX_SHIPPED_MASKS);
        Progress progress;
        return engine.evaluate(one, folder.path(), {.fingerprints = true, .mergeable = true}, progress);
    }
    static void expectReference(const Results &all, const Results &alone)
    {
        for (const MeasurementEntry &entry : all.document->measurements) {
            if (!entry.id.starts_with("its_")) continue;
            const Row &a = *findEntry(all.rows, entry.id), &b = *findEntry(alone.rows, entry.id);
            EXPECT_EQ(a.statistics.count, b.statistics.count) << entry.id;
            EXPECT_GT(a.statistics.count, 0) << a.reason;
            EXPECT_NEAR(*a.statistics.mean / *b.statistics.mean, 1, 1e-9) << entry.id;
            EXPECT_EQ(a.verdict, b.verdict) << entry.id;
        }
        EXPECT_EQ(findEntry(all.eyes, std::string("its_eye"))->fold->picture.counts,
                  EyeFold::merged({findEntry(alone.eyes, std::string("its_eye"))->fold.get()}).picture.counts);
        const MaskResult &a = *findEntry(all.masks, std::string("its_mask"))->result,
                         &b = *findEntry(alone.masks, std::string("its_mask"))->result;
        EXPECT_EQ(a.unitIntervals, b.unitIntervals);
        EXPECT_EQ(a.failedUnitIntervals, b.failedUnitIntervals);
        EXPECT_GT(a.failedUnitIntervals, 0);
        EXPECT_EQ(all.spectra[0].spectrum->power.segments, alone.spectra[0].spectrum->power.segments);
        EXPECT_EQ(all.phaseNoise[0].found->records, 1);
        EXPECT_EQ(all.clocks[1].unitIntervals, alone.clocks[1].unitIntervals);
        EXPECT_EQ(all.budgets[0].verdict, Verdict::fail);
        EXPECT_EQ(all.budgets[0].budget.random, alone.budgets[0].budget.random);
    }
};

TEST_F(RunBesideAReference, CountsItOnceAndBlamesNoCaptureForIt)
{
    document.captures[0].run.stopAt = 1;
    EXPECT_EQ(gather().size(), 5u); // and does not end by it
    EXPECT_EQ(run.failed(), 0u);
    const Results all = *run.all(), its = alone();
    EXPECT_TRUE(all.anyFailed());
    expectReference(all, its);
    EXPECT_EQ(all.rows[0].total->records.size(), 5u);
    EXPECT_THAT(all.rows[0].provenance, testing::Contains(testing::Pair("captures", "5 accumulated")));
    EXPECT_THAT(findEntry(all.rows, std::string("its_tr"))->provenance,
                testing::Contains(testing::Pair("captures", "one, the same beside each of 5")));
    for (const RunLine &line : overviewOf(all)) {
        EXPECT_EQ(line.verdict, Verdict::pass) << line.capture;
        EXPECT_EQ(line.failures, 0);
        EXPECT_EQ(line.failedUnitIntervals, 0);
        EXPECT_FALSE(line.values[2]); // its_tr
        EXPECT_TRUE(line.values[0]);
    }
    expectSame(all, anew());
}

TEST_F(RunBesideAReference, FailuresOfTheRunAreItsCapturesAlone)
{
    capture(9);
    document.captures[0].run.stopAt = 2;
    EXPECT_EQ(gather().size(), 6u);
    EXPECT_EQ(run.failed(), 1u);
    document.measurements[0].limit.max = 1e-15; // of the run itself
    EXPECT_EQ(gather().size(), 2u);
    EXPECT_TRUE(run.ended());
}

TEST_F(RunBesideAReference, IsThatInAnyGroupingOfParts)
{
    std::vector<Results> summaries;
    Progress progress;
    Engine engine(FULVEX_SHIPPED_MASKS);
    for (const RunMember &member : membersOf(document, folder.path()))
        summaries.push_back(summaryOf(engine.evaluate(documentOf(document, member), folder.path(),
                                                      {.fingerprints = true, .mergeable = true}, progress),
                                      member.name));
    const std::vector<std::vector<std::size_t>> groupings[] = {
        {{0, 1, 2, 3, 4}}, {{4}, {2, 3}, {1, 0}}, {{3, 1}, {4, 0}, {2}}, {{4}, {3}, {2}, {1}, {0}}};
    Document plain = document; // as on another machine, which knows nothing of the run's files
    plain.captures[0].run = {};
    const Results its = alone();
    std::optional<Results> first;
    for (const auto &groups : groupings) {
        std::vector<fs::path> parts;
        for (const auto &group : groups) {
            RunTally tally;
            for (const std::size_t one : group) tally.add(summaries[one]);
            parts.push_back(folder / ("part" + std::to_string(parts.size())));
            writePart(parts.back(), tally.results());
        }
        const Results merged = mergedParts(parts, plain, false).results;
        expectReference(merged, its);
        EXPECT_EQ(merged.varied, (std::vector<std::string>{"r"}));
        if (!first) first = merged;
        expectSame(merged, *first);
        const MaskResult &a = *merged.masks[1].result, &b = *first->masks[1].result;
        ASSERT_FALSE(a.worst.empty());
        EXPECT_EQ(a.worst.front().capture, b.worst.front().capture);
    }
}

TEST_F(RunGatheringOf, TheWorstComesFirst)
{
    capture(9);
    document.measurements[1].limit.max = 1e3;
    gather();
    auto lines = overviewOf(*run.all());
    ASSERT_EQ(lines.size(), 6u);
    std::sort(lines.begin(), lines.end(), isWorse);
    EXPECT_EQ(lines[0].capture, "night/c9.npy");
    EXPECT_GT(lines[0].failedUnitIntervals, 0);
    EXPECT_LT(*lines[0].margin, 0.5);
    EXPECT_EQ(lines[0].verdict, Verdict::fail);
    EXPECT_EQ(lines[0].failures, 1);
    EXPECT_EQ(lines[5].verdict, Verdict::pass);
    // Each says what the capture alone gives.
    for (const RunLine &line : lines) {
        Document alone = document;
        alone.captures[0].file = line.capture;
        Engine engine(FULVEX_SHIPPED_MASKS);
        Progress progress;
        const Results own = engine.evaluate(alone, folder.path(), {}, progress);
        EXPECT_DOUBLE_EQ(*line.values[0], *own.rows[0].statistics.mean);
        EXPECT_EQ(line.failedUnitIntervals, own.masks[0].result->failedUnitIntervals);
        EXPECT_EQ(line.verdicts[1], own.rows[1].verdict);
    }
}

TEST_F(RunGatheringOf, AWatchedFolderIsFollowed)
{
    settle();
    document.captures[0].run.watched = true;
    EXPECT_EQ(gather().size(), 5u);
    EXPECT_TRUE(run.mayGrow());
    capture(6);
    const auto now = std::chrono::steady_clock::now();
    run.look(now);
    EXPECT_FALSE(run.hasNext()); // it may be being written
    run.look(now + ArrivingFiles::usualWait);
    EXPECT_EQ(count(), Names{"night/c6.npy"});
    // What becomes of counted files does no harm.
    fs::remove(folder / "night/c1.npy");
    capture(2);
    run.look(now + std::chrono::minutes(1));
    EXPECT_EQ(count(), Names{});
    EXPECT_EQ(run.all()->counted.size(), 6u);
}

TEST_F(RunGatheringOf, CapturesOfTwoFilesWaitForEachOther)
{
    settle();
    fs::create_directory(folder / "other");
    document.captures.push_back(document.captures[0]);
    document.captures[1].id = "s";
    document.captures[1].run.files = {"other"};
    for (CaptureEntry &capture : document.captures) capture.run.watched = true;
    ChannelEntry second = document.channels[0];
    second.id = "b";
    second.capture = "s";
    document.channels.push_back(second);
    EXPECT_EQ(gather(), Names{});
    for (const int number : {1, 2}) {
        const std::string name = "/c" + std::to_string(number) + ".npy";
        fs::copy(folder / ("night" + name), folder / ("other" + name));
        fs::last_write_time(folder / ("other" + name), fs::file_time_type::clock::now() - std::chrono::minutes(5));
    }
    run.look();
    EXPECT_EQ(count(), (Names{"night/c1.npy, other/c1.npy", "night/c2.npy, other/c2.npy"}));
}

TEST_F(RunGatheringOf, AHalfWrittenOneIsTakenOnceItIsWhole)
{
    settle();
    document.captures[0].run.watched = true;
    gather();
    capture(6);
    const std::string whole = test::readAll(folder / "night/c6.npy");
    folder.write("night/c6.npy", whole.substr(0, whole.size() / 3));
    const auto now = std::chrono::steady_clock::now();
    run.look(now);
    run.look(now + ArrivingFiles::usualWait); // its writer pauses for longer than that
    EXPECT_EQ(count(), Names{});
    EXPECT_TRUE(run.unread().empty());
    folder.write("night/c6.npy", whole);
    run.look(now + std::chrono::seconds(3));
    run.look(now + std::chrono::seconds(5));
    EXPECT_EQ(count(), Names{"night/c6.npy"});
}

TEST_F(RunGatheringOf, CapturesOfAnotherRateCountAndAreDoubted)
{
    const auto doubts = [&] {
        const auto all = run.all();
        return std::count_if(all->clocks[0].findings.begin(), all->clocks[0].findings.end(),
                             [](const Finding &finding) { return finding.check == unlikeCaptures; });
    };
    gather();
    EXPECT_EQ(doubts(), 0);
    test::DataSpec spec;
    spec.unitIntervals = 1200;
    spec.samplesPerUi = 11; // another symbol rate
    spec.noise = 0.006;
    test::writeNpy(folder / "night/c6.npy", test::makeData(spec).volts);
    gather();
    EXPECT_EQ(run.counted().size(), 6u);
    EXPECT_EQ(doubts(), 1);
    for (const int number : {7, 8}) { // however many like ones come behind it
        capture(number);
        gather();
        EXPECT_EQ(doubts(), 1);
    }
}

TEST_F(RunGatheringOf, SeveralSideBySideGiveTheSame)
{
    folder.write("night/c4.npy", "\x93NUMPY torn");
    capture(9);
    for (const std::optional<int> stop : {std::optional<int>(), std::optional(1)}) {
        document.captures[0].run.stopAt = stop;
        RunGathering several(FULVEX_SHIPPED_MASKS, {.jobs = 3});
        several.follow(document, folder.path());
        several.look();
        Progress progress;
        Names made;
        while (several.hasNext())
            several.takeNext(progress, [&](const RunMember &member, const Results &) { made.push_back(member.name); });
        EXPECT_TRUE(std::is_sorted(made.begin(), made.end()));
        expectSame(*several.all(), anew());
        EXPECT_EQ(several.ended(), stop.has_value());
        EXPECT_EQ(several.unread().size(), 1u);
    }
}

} // namespace
} // namespace fulvex
