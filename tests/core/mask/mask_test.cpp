#include "clock_recovery.h"
#include "error.h"
#include "mask_test_run.h"
#include "signals.h"

#include <cmath>
#include <map>

using namespace fulvex;

namespace {

MaskArea square()
{
    return {MaskArea::Kind::closed, "square", {{0.4, 0.4}, {0.6, 0.4}, {0.6, 0.6}, {0.4, 0.6}}};
}

/// A clock of exactly 10 samples a unit interval with boundaries at 0, 10, 20, …
Clock plainClock(std::int64_t samples)
{
    auto edges = std::make_shared<EdgeList>();
    auto timing = std::make_shared<SymbolTiming>();
    for (int n = 0; n < 4; ++n) {
        edges->positions.push_back(10.0 * n);
        edges->flags.push_back(n % 2);
        timing->numbers.push_back(n);
    }
    timing->period = 10;
    return fixedClock(edges, timing, {0, 1e-9, samples}, {});
}

MaskResult run(const std::vector<double> &volts, const MaskDefinition &mask, double margin = 0)
{
    const SourcePtr source = makeMemorySource(volts, 1e-9);
    const Clock clock = plainClock(std::int64_t(volts.size()));
    Progress progress;
    MaskRule rule{0, 1, margin, 0, clock.map.unitIntervals(), 1};
    return runMask(source, clock.map, mask, rule, progress);
}

MaskDefinition maskOf(std::vector<MaskArea> areas)
{
    MaskDefinition mask;
    mask.areas = std::move(areas);
    return mask;
}

} // namespace

TEST(MaskShape, TheBorderBelongsToTheArea)
{
    const MaskShape shape(MaskArea::Kind::closed, square().points);
    EXPECT_TRUE(shape.contains({0.5, 0.5}));
    EXPECT_TRUE(shape.contains({0.4, 0.5}));
    EXPECT_TRUE(shape.contains({0.6, 0.6}));
    EXPECT_FALSE(shape.contains({0.39999, 0.5}));
    EXPECT_FALSE(shape.contains({0.5, 0.6001}));
}

TEST(MaskShape, ALineThroughACornerTouches)
{
    const MaskShape shape(MaskArea::Kind::closed, square().points);
    EXPECT_TRUE(shape.touches({0.3, 0.5}, {0.7, 0.5}));
    EXPECT_FALSE(shape.touches({0.3, 0.49}, {0.49, 0.3}));
    const MaskShape exact(MaskArea::Kind::closed, {{0.375, 0.375}, {0.625, 0.375}, {0.625, 0.625}, {0.375, 0.625}});
    EXPECT_TRUE(exact.touches({0.25, 0.5}, {0.5, 0.25})); // through the corner (0.375, 0.375), exact in binary
    EXPECT_FALSE(shape.touches({0.3, 0.7}, {0.7, 0.7}));
}

TEST(MaskShape, AboveAndBelowAreOpenOutwards)
{
    const MaskShape above(MaskArea::Kind::above, {{0, 1.3}, {0.5, 1.5}, {1, 1.3}});
    EXPECT_TRUE(above.contains({0.25, 1.4}));
    EXPECT_FALSE(above.contains({0.25, 1.39}));
    EXPECT_TRUE(above.contains({0.7, 99}));
    EXPECT_FALSE(above.contains({1.1, 99}));
    EXPECT_TRUE(above.touches({-0.1, 3}, {0.1, 3}));
    const MaskShape below(MaskArea::Kind::below, {{0, -0.2}, {1, -0.2}});
    EXPECT_TRUE(below.contains({0.5, -0.2}));
    EXPECT_TRUE(below.touches({0.5, 0}, {0.5, -1}));
    EXPECT_FALSE(below.touches({0.5, 0}, {0.9, -0.19}));
}

TEST(MovableArea, ReachesCrossingsAndStatesAtPlusOneAndItsMiddleAtMinusOne)
{
    const MovableArea area(square(), MaskDefinition(), -1, 3);
    EXPECT_EQ(area.at(0).points()[0], (MaskPoint{0.4, -1 + 0.4 * 4}));
    EXPECT_EQ(area.at(1).points()[0], (MaskPoint{0, -1}));
    EXPECT_EQ(area.at(1).points()[2], (MaskPoint{1, 3}));
    EXPECT_NEAR(area.at(-1).points()[2].x, 0.5, 1e-12);
    EXPECT_NEAR(area.at(-1).points()[2].y, 1, 1e-12);
    EXPECT_NEAR(area.at(0.5).points()[0].x, 0.2, 1e-12);
    const MovableArea top({MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}}, MaskDefinition(), 0, 1);
    EXPECT_NEAR(top.at(1).points()[0].y, 1, 1e-12);
    EXPECT_NEAR(top.at(-1).points()[0].y, 1.6, 1e-12);
}

/// A constant trace at height h: the square grows linearly from 0.6 to 1 at margin +1, so it is met at (h - 0.6) / 0.4;
/// inside it shrinks to 0.5 at -1, so a trace at 0.55 passes from -0.5 down.
TEST(MaskRun, MarginIsTheOneWorkedOut)
{
    for (const double height : {0.7, 0.9, 0.61}) {
        const MaskResult result = run(std::vector<double>(1000, height), maskOf({square()}));
        EXPECT_EQ(result.failedUnitIntervals, 0);
        EXPECT_NEAR(*result.margin, (height - 0.6) / 0.4, 2e-6) << height;
    }
    EXPECT_NEAR(*run(std::vector<double>(1000, 0.55), maskOf({square()})).margin, -0.5, 2e-6);
    EXPECT_NEAR(*run(std::vector<double>(1000, 0.5), maskOf({square()})).margin, -1, 2e-6);
    EXPECT_NEAR(
        *run(std::vector<double>(1000, 0.1), maskOf({{MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}}})).margin, 1,
        2e-6);
    EXPECT_NEAR(
        *run(std::vector<double>(1000, 1.15), maskOf({{MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}}})).margin,
        0.5, 2e-6);
}

TEST(MaskRun, HitsAreCountedPerAreaAndUnitInterval)
{
    std::vector<double> volts(2000, 0.9);
    volts[505] = 0.5; // in the square: one hit
    volts[704] = 0.5; // two in one unit interval
    volts[706] = 0.5;
    volts[912] = 1.4; // above
    // No sample lies on a border.
    const MaskArea wider{MaskArea::Kind::closed, "wider", {{0.35, 0.4}, {0.65, 0.4}, {0.65, 0.6}, {0.35, 0.6}}};
    const MaskDefinition mask = maskOf({wider, {MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}}});
    const MaskResult result = run(volts, mask);
    // From the hit back to 0.9 the line leaves the square; both ends of a line are judged by their own sample.
    EXPECT_EQ(result.areaHits[0], 3);
    EXPECT_EQ(result.areaHits[1], 1);
    EXPECT_EQ(result.hits, 4);
    EXPECT_EQ(result.failedUnitIntervals, 3);
    ASSERT_EQ(result.failures.size(), 3u);
    EXPECT_EQ(result.failures[0].unitInterval, 50);
    EXPECT_NEAR(result.failures[0].time, 505e-9, 1e-15);
    EXPECT_EQ(result.failures[1].unitInterval, 70);
    EXPECT_EQ(result.failures[2].unitInterval, 91);
    EXPECT_EQ(result.failures[2].area, 1);
    EXPECT_LT(*result.margin, 0);
}

TEST(MaskRun, AUnitIntervalHitInTwoAreasFailsOnce)
{
    std::vector<double> volts(500, 0.9);
    volts[205] = 0.5;
    volts[207] = 2;
    const MaskResult result = run(volts, maskOf({square(), {MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}}}));
    EXPECT_EQ(result.hits, 2);
    EXPECT_EQ(result.failedUnitIntervals, 1);
}

TEST(MaskRun, NothingThinSlipsThroughBetweenSamples)
{
    std::vector<double> volts;
    for (int i = 0; i < 1000; ++i)
        volts.push_back(i % 10 < 5 ? 0.0 : 1.0); // jumps over the area between 0.4 and 0.5 UI
    const MaskDefinition thin =
        maskOf({{MaskArea::Kind::closed, "thin", {{0.44, 0.45}, {0.46, 0.45}, {0.46, 0.55}, {0.44, 0.55}}}});
    const MaskResult result = run(volts, thin);
    EXPECT_EQ(result.failedUnitIntervals, result.unitIntervals);
    EXPECT_EQ(result.hits, result.unitIntervals);
}

TEST(MaskRun, AGapDrawsNoLine)
{
    std::vector<double> volts(1000, 0.0);
    for (int i = 5; i < 1000; i += 10) volts[std::size_t(i)] = NAN;
    for (int i = 0; i < 1000; ++i)
        if (i % 10 > 5) volts[std::size_t(i)] = 1;
    EXPECT_EQ(
        run(volts, maskOf({{MaskArea::Kind::closed, "thin", {{0.44, 0.45}, {0.56, 0.45}, {0.56, 0.55}, {0.44, 0.55}}}}))
            .hits,
        0);
}

TEST(MaskRun, AGrownMaskFailsWhatItsMarginSays)
{
    const std::vector<double> volts(1000, 0.7); // margin 0.25
    EXPECT_EQ(run(volts, maskOf({square()}), 0.24).failedUnitIntervals, 0);
    const MaskResult grown = run(volts, maskOf({square()}), 0.26);
    EXPECT_EQ(grown.failedUnitIntervals, grown.unitIntervals);
    EXPECT_NEAR(*grown.margin, 0.25, 2e-6);
}

TEST(MaskRun, ChunksAddUp)
{
    test::DataSpec spec;
    spec.noise = 0.12;
    spec.low = 0;
    spec.high = 1;
    spec.unitIntervals = 30000;
    spec.samplesPerUi = 10;
    spec.offset = 0;
    const test::Data data = test::makeData(spec);
    const SourcePtr source = data.source(1e-9);
    const Clock clock = plainClock(std::int64_t(data.volts.size()));
    Progress progress;
    MaskRule rule{0, 1, 0.3, 0, 30000, 1};
    const MaskDefinition mask = maskOf({square()});
    const MaskResult whole = runMask(source, clock.map, mask, rule, progress);
    MaskRule first = rule, second = rule;
    first.last = second.first = 12345;
    MaskResult parts = runMask(source, clock.map, mask, first, progress);
    parts.merge(runMask(source, clock.map, mask, second, progress));
    EXPECT_GT(whole.hits, 10);
    EXPECT_EQ(parts.hits, whole.hits);
    EXPECT_EQ(parts.failedUnitIntervals, whole.failedUnitIntervals);
    EXPECT_NEAR(*parts.margin, *whole.margin, 2e-6);
}

/// Dips in all areas of a mask at places that are known, in a record of several chunks: exactly those are found.
TEST(MaskRun, PlantedFailuresAreFoundInAllAreasAtTheirTimes)
{
    const MaskDefinition mask = maskOf({square(),
                                        {MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}},
                                        {MaskArea::Kind::below, "bottom", {{0, -0.3}, {1, -0.3}}}});
    for (const std::uint64_t seed : {1u, 2u, 3u}) {
        test::Gaussian random(seed);
        std::vector<double> volts(4'000'000);
        for (std::size_t i = 0; i < volts.size(); ++i) volts[i] = i / 10 % 3 == 0 ? 0.05 : 0.95;
        std::map<std::int64_t, std::pair<std::size_t, int>> planted; // by unit interval: sample, area
        constexpr double inside[] = {0.5, 1.4, -0.4};
        while (planted.size() < 500) {
            const auto n = std::int64_t(random.uniform() * 399'000);
            // Away from where the trace is, so that no line runs through another area.
            const int area = random.uniform() < 0.5 ? 0 : n % 3 == 0 ? 2 : 1;
            const std::size_t at = std::size_t(n) * 10 + 5; // the unit interval's middle
            if (!planted.emplace(n, std::pair(at, area)).second) continue;
            volts[at] = inside[area];
        }
        const MaskResult result = run(volts, mask);
        ASSERT_EQ(result.failedUnitIntervals, 500);
        ASSERT_EQ(result.failures.size(), 500u);
        std::vector<std::int64_t> perArea(3);
        auto its = planted.begin();
        for (const MaskFailure &failure : result.failures) {
            EXPECT_EQ(failure.unitInterval, its->first);
            EXPECT_NEAR(failure.time, double(its->second.first) * 1e-9, 1e-15);
            EXPECT_EQ(failure.area, its->second.second);
            ++perArea[std::size_t(its->second.second)];
            ++its;
        }
        EXPECT_EQ(result.areaHits, perArea);
        for (const std::int64_t stopAt : {1, 7, 499}) {
            MaskRule rule{0, 1, 0, 0, 400'000, 1};
            rule.last = plainClock(std::int64_t(volts.size())).map.unitIntervals();
            rule.stopAt = stopAt;
            const SourcePtr source = makeMemorySource(volts, 1e-9);
            Progress progress;
            const MaskResult stopped =
                runMask(source, plainClock(std::int64_t(volts.size())).map, mask, rule, progress);
            EXPECT_TRUE(stopped.stopped);
            EXPECT_EQ(stopped.failedUnitIntervals, stopAt);
            EXPECT_EQ(stopped.failures.back().unitInterval, result.failures[std::size_t(stopAt - 1)].unitInterval);
            EXPECT_EQ(stopped.unitIntervals, stopped.failures.back().unitInterval + 1);
        }
        MaskRule never{0, 1, 0, 0, 0, 1};
        never.last = plainClock(std::int64_t(volts.size())).map.unitIntervals();
        never.stopAt = 501;
        Progress progress;
        const MaskResult counted =
            runMask(makeMemorySource(volts, 1e-9), plainClock(std::int64_t(volts.size())).map, mask, never, progress);
        EXPECT_FALSE(counted.stopped);
        EXPECT_EQ(counted.unitIntervals, result.unitIntervals);
        EXPECT_EQ(counted.hits, result.hits);
        EXPECT_EQ(counted.margin, result.margin);
    }
}

TEST(MaskFile, TheShippedOnesAreWhatTheirStandardsSay)
{
    EXPECT_THAT(maskIds(FULVEX_SHIPPED_MASKS),
                testing::ElementsAre("brackwater-camera-link", "ieee-802.3-1000base-x", "ieee-802.3-10gbase-e",
                                     "ieee-802.3-10gbase-l", "ieee-802.3-10gbase-s", "ieee-802.3-xaui-far-end",
                                     "ieee-802.3-xaui-near-end", "itu-g957-stm-1", "itu-g957-stm-16", "itu-g957-stm-4",
                                     "usb-2-high-speed-near-end"));
    const MaskDefinition gigabit = loadMask("ieee-802.3-1000base-x", ".", FULVEX_SHIPPED_MASKS);
    EXPECT_EQ(
        gigabit.areas[0].points,
        (std::vector<MaskPoint>{{0.22, 0.5}, {0.375, 0.8}, {0.625, 0.8}, {0.78, 0.5}, {0.625, 0.2}, {0.375, 0.2}}));
    EXPECT_EQ(gigabit.areas[1].points[0].y, 1.3);
    EXPECT_EQ(gigabit.areas[2].points[0].y, -0.2);
    const MaskDefinition ten = loadMask("ieee-802.3-10gbase-s", ".", FULVEX_SHIPPED_MASKS);
    EXPECT_EQ(ten.areas[0].points.size(), 10u);
    for (const MaskPoint &p : ten.areas[0].points) { // point-symmetric about (0.5, 0.5)
        const bool mirrored = std::any_of(ten.areas[0].points.begin(), ten.areas[0].points.end(), [&](MaskPoint q) {
            return std::abs(q.x - (1 - p.x)) < 1e-12 && std::abs(q.y - (1 - p.y)) < 1e-12;
        });
        EXPECT_TRUE(mirrored);
    }
    EXPECT_EQ(ten.areas[1].points[0].y, 1.4);
    for (const std::string &id : maskIds(FULVEX_SHIPPED_MASKS))
        EXPECT_EQ(loadMask(id, ".", FULVEX_SHIPPED_MASKS).id, id);
}

TEST(MaskFile, BrokenOnesSayWhereAndHow)
{
    const auto errorOf = [](const std::string &json) {
        try {
            parseMask(json, "m.mask.json");
        } catch (const Error &error) {
            return std::string(error.what());
        }
        return std::string("no error");
    };
    EXPECT_EQ(errorOf("{"),
              "m.mask.json: line 1: is not valid JSON; mend it there; the last thing read is before byte 2");
    EXPECT_EQ(errorOf("{}"), "m.mask.json: is no mask of version 1; start it with {\"fulvex_mask\": 1, …}");
    const std::string head = R"({"fulvex_mask": 1, "id": "m", "x": "ui", "y": "V", "areas": )";
    EXPECT_EQ(errorOf(head + "[]}"), "m.mask.json: areas: holds no area; add at least one");
    EXPECT_EQ(errorOf(head + R"([{"name": "a", "kind": "closed", "points": [[0, 1], [1]]}]})"),
              "m.mask.json: areas[0].points: needs at least 3 points; write [[x, y], …]");
    EXPECT_EQ(errorOf(head + R"([{"name": "a", "kind": "round", "points": []}]})"),
              "m.mask.json: areas[0].kind: \"round\" is no kind of area; use closed, above or below");
    EXPECT_THAT(errorOf(head + R"([{"name": "a", "kind": "above", "points": [[1, 1], [0, 1]]}]})"),
                testing::HasSubstr("points[1]: does not lie right of the point before"));
    EXPECT_THROW(loadMask("nowhere", ".", FULVEX_SHIPPED_MASKS), Error);
}

namespace {

/// Pulses of 1 V with edges of 4 samples, every 100 samples; some of them with a dip of `depth` 20 samples behind their
/// rising edge.
struct Pulses {
    std::vector<double> volts;
    std::vector<double> edges;
    explicit Pulses(std::int64_t count, const std::vector<std::int64_t> &dented, double depth)
    {
        for (std::int64_t n = 0; n < count; ++n) {
            edges.push_back(double(100 * n) + 30);
            for (int i = 0; i < 100; ++i) {
                const double up = std::clamp((i - 28) / 4.0, 0.0, 1.0), down = std::clamp((i - 78) / 4.0, 0.0, 1.0);
                const bool dent = i == 50 && std::find(dented.begin(), dented.end(), n) != dented.end();
                volts.push_back(up - down - (dent ? depth : 0));
            }
        }
    }
    SourcePtr source() const { return makeMemorySource(volts, 1e-9); }
};

/// From 12 to 28 ns behind the edge it is no lower than 0.8 V; never above 1.2 V.
MaskDefinition pulseTemplate()
{
    return parseMask(R"({"fulvex_mask": 1, "id": "pulse", "x": "s", "y": "V", "areas": [
        {"name": "top", "kind": "above", "points": [[-20e-9, 1.2], [45e-9, 1.2]]},
        {"name": "sag", "kind": "closed", "points": [[12e-9, 0.2], [12e-9, 0.8], [28e-9, 0.8], [28e-9, 0.2]]}]})",
                     "pulse");
}

MaskResult templated(const Pulses &pulses, double margin = 0)
{
    MaskRule rule;
    rule.margin = margin;
    Progress progress;
    return runTemplate(pulses.source(), pulses.edges, pulseTemplate(), rule, progress);
}

} // namespace

TEST(MaskTemplate, FindsExactlyThePulsesThatWerePlanted)
{
    std::vector<std::int64_t> dented{0, 7, 8, 255, 256, 700, 999};
    const Pulses pulses(1000, dented, 0.5);
    const MaskResult result = templated(pulses);
    EXPECT_EQ(result.unitIntervals, 1000);
    EXPECT_EQ(result.failedUnitIntervals, std::int64_t(dented.size()));
    EXPECT_EQ(result.hits, std::int64_t(dented.size()));
    EXPECT_EQ(result.areaHits, (std::vector<std::int64_t>{0, std::int64_t(dented.size())}));
    ASSERT_EQ(result.failures.size(), dented.size());
    for (std::size_t i = 0; i < dented.size(); ++i) {
        EXPECT_EQ(result.failures[i].unitInterval, dented[i]);
        EXPECT_NEAR(result.failures[i].time, (double(100 * dented[i]) + 50) * 1e-9, 1e-15);
        EXPECT_NEAR(result.failures[i].phase, 20e-9, 1e-15);
        EXPECT_DOUBLE_EQ(result.failures[i].value, 0.5);
    }
    EXPECT_EQ(templated(Pulses(1000, {}, 0)).failedUnitIntervals, 0);
}

/// The sag's upper border at margin m in 0 … 1 goes from 0.8 to the one level, 1 V: a dip to 0.9 V is met at m = 0.5,
/// and one to 0.7 V passes where it has shrunk towards 0.5 V by a third. (At m = 1 it is twice as wide, and still clear
/// of the edge.)
TEST(MaskTemplate, MarginIsTheOneWorkedOut)
{
    EXPECT_NEAR(*templated(Pulses(300, {120}, 0.1)).margin, 0.5, 1e-3);
    EXPECT_NEAR(*templated(Pulses(300, {120}, 0.3)).margin, -1.0 / 3, 1e-3);
    EXPECT_EQ(templated(Pulses(300, {120}, 0.1), 0.49).failedUnitIntervals, 0);
    EXPECT_EQ(templated(Pulses(300, {120}, 0.1), 0.51).failedUnitIntervals, 1);
}

TEST(MaskTemplate, OverlappingOnesSeeASampleEach)
{
    Pulses pulses(50, {20}, 0.5);
    std::vector<double> both;
    for (const double edge : pulses.edges) both.push_back(edge), both.push_back(edge + 3); // a second trigger close by
    pulses.edges = both;
    EXPECT_EQ(templated(pulses).failedUnitIntervals, 2);
}

TEST(MaskTemplate, AtTheRecordsEndsAndWithoutEdgesNothingBreaks)
{
    Pulses pulses(3, {}, 0);
    pulses.edges = {-0.4, 1, 298};
    EXPECT_EQ(templated(pulses).unitIntervals, 3);
    pulses.edges.clear();
    EXPECT_EQ(templated(pulses).unitIntervals, 0);
    EXPECT_THROW(parseMask(R"({"fulvex_mask": 1, "id": "x", "x": "s", "y": "V", "areas": [
        {"name": "far", "kind": "above", "points": [[0, 1], [2000, 1]]}]})",
                           "far"),
                 Error);
}
