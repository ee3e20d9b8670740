// Transitions between several levels by bits, against the same one by one.

#include "by_target.h"
#include "coded_channels.h"
#include "edge_finder.h"
#include "parallel.h"
#include "signals.h"
#include "transition_seeker.h"
#include "transition_stretch.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

struct Kind {
    const char *name;
    std::vector<double> levels;
    double samplesPerUi, noise, jitter;
    std::function<void(std::vector<double> &)> spoil = {};
    bool coded = true;
};

std::vector<Kind> kinds()
{
    const auto gaps = [](std::vector<double> &volts) {
        for (std::size_t i = 900; i < volts.size(); i += 1711) volts[i] = NAN;
        for (std::size_t i = 20000; i < 20300; ++i) volts[i] = NAN;
    };
    const auto idle = [](std::vector<double> &volts) { // on a level, and on a band
        for (std::size_t i = 10000; i < 19000; ++i) volts[i] = 0;
        for (std::size_t i = 30000; i < 39000; ++i) volts[i] = 0.25;
    };
    const std::vector<double> three{-0.5, 0, 0.5}, four{-0.5, -0.2, 0.15, 0.5};
    return {{"open", three, 4.003, 0.005, 0.01},
            {"noisy", three, 4.003, 0.06, 0.02},
            {"closed", three, 6.7, 0.15, 0.15},
            {"few samples", three, 2.31, 0.01, 0.01},
            {"straight lines", three, 12.3, 0.03, 0.02},
            {"many samples", three, 301.7, 0.02, 0.02},
            {"four, uneven", four, 5.01, 0.02, 0.02},
            {"eight", evenLevels(-0.5, 0.5, 8), 7.9, 0.01, 0.01},
            {"sixteen", evenLevels(-0.5, 0.5, 16), 9.3, 0.002, 0.01},
            {"idle", three, 4.003, 0.02, 0.02, idle},
            {"gaps", three, 4.003, 0.02, 0.02, gaps, false}};
}

std::vector<double> voltsOf(const Kind &kind, std::uint64_t seed)
{
    test::DataSpec spec;
    spec.seed = seed;
    spec.levels = kind.levels;
    spec.samplesPerUi = kind.samplesPerUi;
    spec.unitIntervals = std::int64_t(50'000 / kind.samplesPerUi);
    spec.noise = kind.noise;
    spec.randomJitter = kind.jitter;
    spec.wander = [](double ui) { return 0.2 * std::sin(ui / 700); };
    std::vector<double> volts = test::makeData(spec).volts;
    if (kind.spoil) kind.spoil(volts);
    return volts;
}

SymbolLevels levelsOf(const Kind &kind)
{
    SymbolLevels levels{kind.levels, {}, 0.02};
    for (std::size_t i = 1; i < kind.levels.size(); ++i) levels.thresholds.push_back(levels.middle(i - 1, i));
    return levels;
}

struct Sought {
    EdgeList edges;
    std::vector<bool> gaps; ///< behind each chunk
};

Sought soughtBy(auto &seeker, std::int64_t boundaries, std::int64_t perChunk)
{
    Sought all;
    for (const SampleRange &chunk : chunksOf({0, boundaries}, perChunk)) {
        FoundTransitions found;
        seeker.seek(chunk, found);
        all.edges.positions.insert(all.edges.positions.end(), found.edges.positions.begin(),
                                   found.edges.positions.end());
        all.edges.flags.insert(all.edges.flags.end(), found.edges.flags.begin(), found.edges.flags.end());
        all.edges.steps.insert(all.edges.steps.end(), found.edges.steps.begin(), found.edges.steps.end());
        all.gaps.push_back(found.gap);
    }
    return all;
}

void expectAlike(const SourcePtr &source, const Kind &kind)
{
    Progress progress;
    const SymbolLevels levels = levelsOf(kind);
    const TransitionBands bands(levels);
    const UnitIntervalMap map(source->axis(), 0.37 * kind.samplesPerUi, kind.samplesPerUi);
    const std::vector<EdgeList> crossings =
        findLinearEdges(*source, {0, source->axis().count}, bands.levels(), progress);
    TransitionSeeker plain(*source, map, bands, levels, crossings);
    TransitionStretch stretch(*source, map, bands, levels);
    for (const std::int64_t perChunk : {1, 17, 1000}) {
        if (perChunk == 1 && map.unitIntervals() > 15'000) continue; // which takes long
        const Sought found = soughtBy(stretch, map.unitIntervals() + 1, perChunk),
                     should = soughtBy(plain, map.unitIntervals() + 1, perChunk);
        ASSERT_GT(should.edges.size(), 100u);
        ASSERT_EQ(found.edges.positions, should.edges.positions) << perChunk;
        ASSERT_EQ(found.edges.flags, should.edges.flags) << perChunk;
        ASSERT_EQ(found.edges.steps, should.edges.steps) << perChunk;
        ASSERT_EQ(found.gaps, should.gaps) << perChunk;
    }
}

} // namespace

TEST(TransitionStretch, FindsWhatIsFoundOneByOne)
{
    std::uint64_t seed = 0;
    for (const Kind &kind : kinds()) {
        SCOPED_TRACE(kind.name);
        const std::vector<double> volts = voltsOf(kind, ++seed);
        expectAlike(makeMemorySource(volts, 1e-10), kind);
        if (!kind.coded) continue;
        std::vector<std::int16_t> codes;
        for (const double v : volts) codes.push_back(std::int16_t(std::lround(std::clamp(v, -0.7, 0.7) * 40000)));
        expectAlike(test::codedChannel(codes, 1 / 40000.0, 0, 1, 1e-10), kind);
        expectAlike(test::fullRangeLegs(codes, 1 / 40000.0, 1e-10), kind);
    }
}

TEST(TransitionStretch, FindsTheSameByEveryInstructionSet)
{
    const Kind kind = kinds()[1];
    const std::vector<double> volts = voltsOf(kind, 77);
    std::vector<std::int16_t> codes;
    for (const double v : volts) codes.push_back(std::int16_t(std::lround(std::clamp(v, -0.7, 0.7) * 40000)));
    test::byEachTarget([&] {
        expectAlike(makeMemorySource(volts, 1e-10), kind);
        expectAlike(test::codedChannel(codes, 1 / 40000.0, 0, 1, 1e-10), kind);
    });
}
