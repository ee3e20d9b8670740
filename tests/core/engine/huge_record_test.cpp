// More samples, and more unit intervals, than 32 bits count: right numbers, bounded memory. The samples are made as
// they are read; a pulse at either end and rest between, so that it is the counting that takes the time.

#include "capture_reader.h"
#include "channel_check.h"
#include "channel_source.h"
#include "clock_recovery.h"
#include "edge_finder.h"
#include "mask_test_run.h"
#include "signals.h"
#include "temporary_folder.h"

#include <fstream>
#include <gtest/gtest.h>
#include <sys/resource.h>

using namespace fulvex;

namespace {

constexpr std::int64_t hugeCount = (std::int64_t(1) << 32) + 20'000'000;
constexpr std::int64_t burst = 200'000, symbol = 100; ///< samples

/// -1, 1, -1, … of a hundred samples each in the bursts, and the low state in between.
class LongRest final : public SampleSource {
public:
    LongRest() { m_axis = {0, 1e-9, hugeCount}; }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return false; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        for (std::size_t i = 0; i < out.size(); ++i) {
            const std::int64_t at = first + std::int64_t(i);
            const bool inBurst = at < burst || at >= hugeCount - burst;
            out[i] = inBurst && at / symbol % 2 ? 1 : -1;
        }
    }

private:
    TimeAxis m_axis;
};

long peakMegabytes()
{
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    return usage.ru_maxrss / 1024;
}

/// Of mapped files, at present.
long mappedMegabytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("RssFile:")) return std::stol(line.substr(8)) / 1024;
    }
    return -1;
}

} // namespace

/// A file of 1 GB whose pages come in large pieces: also passes that glance back before their chunk give them all back.
TEST(HugeRecord, PassesOverAMappedFileKeepLittleOfIt)
{
    const test::TemporaryFolder folder;
    constexpr std::int64_t samples = 1'000'000'000, block = 1 << 20;
    const std::string path = folder / "long.raw";
    std::string bits(std::size_t(block), '\0');
    for (std::size_t i = 0; i < bits.size(); ++i) bits[i] = (i / 40) % 2 ? 100 : -100;
    folder.write("long.raw", bits);
    std::filesystem::resize_file(path, samples);
    ImportOptions options;
    options.format = "raw";
    options.sampleType = SampleType::i8;
    options.sampleInterval = 1e-9;
    Progress progress;
    const Capture capture = readCapture(path, options, progress);
    const ChannelSource source(capture.columns[0], capture.axis, 1, 0, 0);
    const SampleRange all{0, samples};
    const long before = mappedMegabytes();
    const auto kept = [&] { return mappedMegabytes() - before; };
    const AmplitudeSurvey survey = surveyAmplitudes(source, all, progress);
    EXPECT_EQ(survey.stats.count, samples);
    EXPECT_EQ(survey.runs.maximum.samples, block / 80 * 40);
    EXPECT_LT(kept(), 130); // twice what is let go of at a time
    const EdgeList edges = findLinearEdges(source, all, crossingLevel(0, 20), progress);
    EXPECT_EQ(edges.size(), std::size_t(block / 40));
    EXPECT_LT(kept(), 130);
}

TEST(HugeRecord, EdgesClockEyeAndMaskCountBeyond32Bits)
{
    const auto source = std::make_shared<const LongRest>();
    Progress progress;
    const long before = peakMegabytes();
    const ReferenceLevels levels{{-1, 1}, -0.8, 0, 0.8, 0.2};
    auto edges =
        std::make_shared<EdgeList>(findEdges(*source, {0, hugeCount}, levels, EdgeInterpolation::linear, progress));
    // The first burst has 2000 symbols, low first, of which the last one ends in the rest: 2000 edges. The second
    // begins within an even symbol, number 43 147 672, and ends within another even one, 43 149 672: 2000 edges.
    ASSERT_EQ(edges->size(), std::size_t(2 * (burst / symbol)));
    EXPECT_NEAR(edges->positions.back(), double(hugeCount), 2.0 * symbol);
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, double(symbol), progress));
    ASSERT_TRUE(timing->found()) << timing->reason;
    const Clock clock = fixedClock(edges, timing, source->axis(), double(symbol));
    EXPECT_NEAR(double(clock.map.unitIntervals()), double(hugeCount) / symbol, 2);
    // Eye and mask of the end alone, beyond what 32 bits count: all of it takes minutes.
    const std::int64_t last = clock.map.unitIntervals(), first = last - 200'000;
    const EyeFold eye = foldEye(source, clock.map, {{0}, -1, 1, first, last, 1}, progress);
    EXPECT_NEAR(double(eye.samples), 200'000.0 * symbol, 2);
    MaskDefinition mask;
    mask.areas.push_back({MaskArea::Kind::below, "rest", {{0.4, 0.05}, {0.6, 0.05}}});
    const MaskResult result = runMask(source, clock.map, mask, {-1, 1, 0, first, last, 1}, progress);
    EXPECT_EQ(result.unitIntervals, last - first);
    EXPECT_NEAR(double(result.failedUnitIntervals), double(last - first) - double(burst / symbol) / 2, 3);
    EXPECT_EQ(result.failures.size(), MaskResult::keptFailures);
    EXPECT_EQ(result.failures.front().unitInterval, first);
    EXPECT_EQ(result.worst.size(), MaskResult::keptFailures);
    EXPECT_LT(peakMegabytes() - before, 400);
}

/// Unit intervals of 30 million samples each: nothing is allocated by the unit interval.
TEST(HugeRecord, AFewEndlessUnitIntervalsTakeLittleMemory)
{
    std::vector<double> volts(120'000'000);
    for (std::size_t i = 0; i < volts.size(); ++i) volts[i] = (i / 30'000'000) % 2 ? 1 : -1;
    const SourcePtr source = makeMemorySource(std::move(volts), 1e-9);
    Progress progress;
    const long before = peakMegabytes();
    auto edges = std::make_shared<EdgeList>();
    edges->positions = {29'999'999.5, 59'999'999.5, 89'999'999.5};
    edges->flags = {EdgeList::rising, 0, EdgeList::rising};
    auto timing = std::make_shared<SymbolTiming>();
    timing->period = 30e6;
    timing->offset = edges->positions[0];
    timing->numbers = {0, 1, 2};
    const Clock clock = fixedClock(edges, timing, source->axis(), {});
    const EyeFold eye = foldEye(source, clock.map, {{0}, -1, 1, 0, clock.map.unitIntervals(), 1}, progress);
    EXPECT_EQ(eye.unitIntervals, 2); // whole ones, between the three boundaries
    EXPECT_NEAR(double(eye.samples), 60e6, 2);
    EXPECT_NEAR(eye.one().mean, 1, 1e-12);
    EXPECT_NEAR(eye.zero().mean, -1, 1e-12);
    EXPECT_LT(peakMegabytes() - before, 200);
}
