// Overlays as documents ask for them: their laps, templates on them, averaged traces, and what they refuse.

#include "document_json.h"
#include "engine.h"
#include "error.h"
#include "evidence.h"
#include "signals.h"
#include "temporary_folder.h"
#include "units.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

using test::ns;

/// Pulses of one shape and their noise in a file of plain doubles, a (the pulses) and t (a trigger that comes 40
/// samples before each) among its columns.
struct PulseProject {
    PulseProject(int count, double noise, std::uint64_t seed) : engine(FULVEX_SHIPPED_MASKS)
    {
        std::mt19937_64 random(seed);
        std::uniform_real_distribution<double> more(0, 60);
        std::normal_distribution<double> normal(0, 1);
        std::vector<double> volts(std::size_t(count) * 320 + 400), trigger(volts.size());
        double at = 150.3;
        for (int i = 0; i < count; ++i, at += 260 + more(random)) {
            moments.push_back(at);
            for (auto k = std::int64_t(at) - 60; k < std::int64_t(at) + 140; ++k)
                volts[std::size_t(k)] += pulse(double(k) - at);
            for (auto k = std::int64_t(at) - 60; k < std::int64_t(at) + 40; ++k) // a step, and back
                trigger[std::size_t(k)] = 0.5 + 0.5 * std::erf((double(k) - at + 40) / 2);
        }
        for (double &value : volts) value += noise * normal(random);
        write(volts, "a");
        write(trigger, "t");
    }
    static double pulse(double since) // it rises through its middle at 0
    {
        return (0.5 + 0.5 * std::erf(since / 6)) * (0.5 - 0.5 * std::erf((since - 60) / 9));
    }
    void write(const std::vector<double> &values, const std::string &id)
    {
        folder.write(id + ".raw", test::bytesOf(values));
        captures += std::string(captures.empty() ? "" : ",") + R"({"id": "file_)" + id + R"(", "file": ")" + id +
                    R"(.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-9}})";
        channels += std::string(channels.empty() ? "" : ",") + R"({"id": ")" + id + R"(", "capture": "file_)" + id +
                    R"(", "column": 0})";
    }
    Results evaluate(const std::string &more, const std::string &formula = {})
    {
        const std::string all = channels + (formula.empty() ? "" : R"(, {"id": "f", "formula": ")" + formula + R"("})");
        Progress progress;
        results = engine.evaluate(parseDocument(R"({"fulvex": 1, "captures": [)" + captures + R"(], "channels": [)" +
                                                    all + "], " + more + "}",
                                                "test"),
                                  folder.path(), {}, progress);
        return results;
    }
    test::TemporaryFolder folder;
    Engine engine;
    Results results;
    std::vector<double> moments;
    std::string captures, channels;
};

} // namespace

/// The averaged trace is the pulse, to what is left of the noise, in the place of each, and nothing between them.
TEST(Overlays, GiveTheirAveragedTraceAsAChannel)
{
    for (const double noise : {0.0, 0.02, 0.1}) {
        SCOPED_TRACE(noise);
        constexpr int count = 400;
        PulseProject project(count, noise, 3);
        // Levels that noise does not cross twice; the edges' own jitter by the noise smears the mean's slope.
        project.evaluate(R"("eyes": [{"id": "o", "source": "a", "each": "rising", "trigger": "t",
                            "before": 20e-9, "after": 160e-9}])",
                         "average(a, o)");
        const EyeResult &overlay = project.results.eyes[0];
        ASSERT_EQ(overlay.reason, "");
        EXPECT_EQ(overlay.fold->unitIntervals, count);
        EXPECT_EQ(overlay.triggers, count);
        const SourcePtr average = findEntry(project.results.channels, "f")->source;
        std::vector<double> values(std::size_t(average->axis().count));
        average->read(0, values);
        const double left = 6 * noise / std::sqrt(count) + 1e-3; // six sigma; the trigger's own instants
        std::int64_t gaps = 0, looked = 0;
        for (std::size_t k = 0; k < values.size(); ++k) {
            const auto next = std::upper_bound(project.moments.begin(), project.moments.end(), double(k) + 60.05);
            const double since = next == project.moments.begin() ? 1e9 : double(k) - *(next - 1);
            if (since < -59.9 || since > 119) { // its trigger is at -40, the lap from -60 on
                gaps += since > 121;
                EXPECT_FALSE(since > 121 && values[k] == values[k]) << since << " at " << k;
                continue;
            }
            ++looked;
            EXPECT_NEAR(values[k], PulseProject::pulse(since), left) << since;
        }
        EXPECT_GT(looked, count * 170);
        EXPECT_GT(gaps, count * 50);
    }
}

/// A template and the overlay of the same edges are one: its failures are those of the pulses that were dented, each
/// with its lap, and Evidence of the overlay lists them.
TEST(Overlays, ShowTheTemplateThatIsLaidAtTheirEdges)
{
    PulseProject project(300, 0.01, 5);
    const std::vector<int> dented{7, 8, 123, 299};
    std::vector<double> volts(std::size_t(300 * 320 + 400));
    findEntry(project.evaluate(R"("eyes": [])").channels, "a")->source->read(0, volts);
    for (const int i : dented)
        for (int k = 25; k < 32; ++k) volts[std::size_t(project.moments[std::size_t(i)]) + std::size_t(k)] = 0.5;
    project.write(volts, "b");
    const std::string areas = R"("x": "s", "areas": [{"kind": "closed", "name": "top",
        "points": [[20e-9, 0.2], [40e-9, 0.2], [40e-9, 0.8], [20e-9, 0.8]]}])";
    for (const bool named : {false, true}) { // by its own edges, or laid on the overlay
        const std::string mask = named ? R"({"id": "m", "eye": "o", )" : R"({"id": "m", "source": "b", )";
        project.evaluate(R"("eyes": [{"id": "o", "source": "b", "each": "rising", "before": 50e-9, "after": 150e-9}],
            "masks": [)" +
                         mask + areas + "}]");
        const MaskRun &run = project.results.masks[0];
        ASSERT_EQ(run.reason, "");
        EXPECT_TRUE(run.atEdges);
        EXPECT_EQ(run.result->failedUnitIntervals, std::int64_t(dented.size()));
        ASSERT_EQ(project.results.eyes[0].reason, "");
        Progress progress;
        const Evidence failed = evidenceFor(project.results, {.id = "o"}, 100, progress);
        EXPECT_EQ(failed.of, Evidence::Of::failures);
        ASSERT_EQ(failed.items.size(), dented.size());
        for (const Evidence::Item &item : failed.items)
            EXPECT_TRUE(std::any_of(dented.begin(), dented.end(), [&](int i) {
                return std::abs(item.time - (project.moments[std::size_t(i)] + 28) * ns) < 6 * ns;
            })) << item.time;
        // A box where they are: the same, and in seconds from the edge.
        Question box{.id = "o"};
        box.phases = {27e-9, 29e-9};
        box.values = {0.45, 0.55};
        const Evidence passes = evidenceFor(project.results, box, 100, progress);
        EXPECT_EQ(passes.count, std::int64_t(dented.size()));
        EXPECT_EQ(passes.all, 300);
    }
}

/// What cannot be is said, with what would help; the rest of the document stays.
TEST(Overlays, SayWhatTheyCannotBe)
{
    PulseProject project(40, 0.01, 7);
    const auto reasonOf = [&](const std::string &eye, const std::string &more = {}) {
        const Results results = project.evaluate(
            R"("clocks": [{"id": "k", "source": "a", "rate": 1e7}], "eyes": [{"id": "o", "source": "a", )" + eye +
            "}]" + more);
        return results.eyes[0].reason;
    };
    using testing::HasSubstr;
    EXPECT_EQ(reasonOf(R"("each": "both")"), "");
    EXPECT_THAT(reasonOf(R"("each": "rising", "before": 1e-9, "after": -0.5e-9)"), HasSubstr("less than two samples"));
    EXPECT_THAT(reasonOf(R"("each": "rising", "before": 1, "after": 1)"),
                HasSubstr("nowhere in the record as a whole"));
    EXPECT_THAT(reasonOf(R"("each": "pattern", "clock": "k", "pattern": 100000)"), HasSubstr("no whole repeat"));
    EXPECT_THAT(reasonOf(R"("each": "pattern", "clock": "k", "pattern": 5, "pattern_from": 2, "pattern_to": 4)"), "");
    reasonOf(R"("each": "rising")", R"(, "measurements": [{"id": "h", "quantity": "eye_height", "eye": "o"}])");
    EXPECT_THAT(project.results.rows[0].reason, HasSubstr("is an overlay"));
    reasonOf(R"("each": "pattern", "clock": "k", "pattern": 5)",
             R"(, "masks": [{"id": "m", "eye": "o", "mask": "ieee-802.3-1000base-x"}])");
    EXPECT_THAT(project.results.masks[0].reason, HasSubstr("single unit intervals"));
    const auto refused = [&](const std::string &eye, const std::string &more = {}) -> std::string {
        try {
            reasonOf(eye, more);
        } catch (const Error &error) {
            return error.what();
        }
        return {};
    };
    EXPECT_THAT(refused(R"("each": "pattern")"), HasSubstr("names no clock"));
    EXPECT_THAT(refused(R"("each": "rising", "before": 1e-9, "after": -2e-9)"), HasSubstr("ends before it begins"));
    EXPECT_THAT(refused(R"("each": "pattern", "clock": "k", "pattern": 5, "pattern_to": 9)"), HasSubstr("pattern_to"));
    EXPECT_THAT(refused(R"("each": "sideways")"), HasSubstr("each"));
    EXPECT_THAT(
        refused(R"("each": "rising")", R"(, "masks": [{"id": "m", "eye": "o", "mask": "ieee-802.3-1000base-x"}])"),
        HasSubstr("cannot be laid at edges"));
    try { // a channel that would stand on itself
        project.evaluate(R"("eyes": [{"id": "o", "source": "f", "each": "rising"}])", "average(a, o)");
        ADD_FAILURE() << "a circle was taken";
    } catch (const Error &error) {
        EXPECT_THAT(std::string(error.what()), HasSubstr("circle"));
    }
}

/// Only whole edges of what is wanted are laid: of a region, of falling ones; captures that differ do not add up.
TEST(Overlays, AreOfARegionAndOfOneKindOfEdge)
{
    PulseProject project(200, 0.005, 9);
    const double half = project.moments[100] * ns;
    project.evaluate(R"("regions": [{"id": "r", "start": 0, "stop": )" + std::to_string(half * 1e6) + R"(e-6}],
        "eyes": [{"id": "o", "source": "a", "each": "falling", "region": "r", "before": 20e-9, "after": 50e-9},
                 {"id": "all", "source": "a", "each": "both", "before": 20e-9, "after": 100e-9}])");
    EXPECT_EQ(project.results.eyes[0].fold->unitIntervals, 100);
    EXPECT_EQ(project.results.eyes[0].triggers, 200);
    // Falling edges lie within the time of the rising ones before them.
    EXPECT_EQ(project.results.eyes[1].fold->unitIntervals, 200);
    EXPECT_EQ(project.results.eyes[1].triggers, 400);
    const Results one = project.evaluate(R"("eyes": [{"id": "o", "source": "a", "each": "rising", "after": 50e-9}])");
    PulseProject another(150, 0.005, 11);
    const Results two = another.evaluate(R"("eyes": [{"id": "o", "source": "a", "each": "rising", "after": 50e-9}])");
    const Results same = accumulated({one, one});
    EXPECT_EQ(same.eyes[0].fold->unitIntervals, 2 * one.eyes[0].fold->unitIntervals);
    ASSERT_NE(one.eyes[0].rule.across, two.eyes[0].rule.across) << "they are as long as their pulses lie apart";
    EXPECT_THAT(accumulated({one, two}).eyes[0].reason, testing::HasSubstr("not as long as each other"));
}
