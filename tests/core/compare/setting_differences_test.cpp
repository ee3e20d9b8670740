#include "comparison.h"
#include "document_json.h"
#include "signals.h"
#include "table_project.h"

#include <gmock/gmock.h>

namespace fulvex {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::UnorderedElementsAre;
using Words = std::vector<std::string>;

/// A link of two legs, two clocks, an eye with a mask, rows of each.
Document link()
{
    return parseDocument(R"json({"fulvex": 1,
        "captures": [{"id": "r", "file": "a.npy", "import": {"sample_interval": 1e-10}}],
        "channels": [{"id": "p", "capture": "r", "column": 0}, {"id": "n", "capture": "r", "column": 1},
                     {"id": "link", "formula": "lowpass(p - n, fc)"}, {"id": "other", "capture": "r", "column": 2}],
        "parameters": [{"id": "fc", "value": 2e7, "unit": "Hz"}],
        "regions": [{"id": "start_up", "start": 1e-6, "stop": 2e-6}],
        "levels": [{"id": "fine", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"}],
        "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
        "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
        "masks": [{"id": "mask", "eye": "eye", "mask": "ieee-802.3-1000base-x"}],
        "measurements": [{"id": "tr", "quantity": "rise_time", "source": "link", "levels": "fine"},
            {"id": "tie", "quantity": "time_interval_error", "source": "link", "clock": "loop"},
            {"id": "eh", "quantity": "eye_height", "eye": "eye"},
            {"id": "pp", "quantity": "peak_to_peak", "source": "other", "region": "start_up"}]})json",
                         "test");
}

std::vector<SettingDifference> differences(const Document &first, const Document &second)
{
    SettingDifferences found(first, second);
    for (const char *id : {"tr", "tie", "eh", "pp", "mask"}) found.add(id, id, id);
    return found.found();
}

TEST(SettingDifferences, OfTheSameThereAreNone)
{
    EXPECT_THAT(differences(link(), link()), IsEmpty());
}

TEST(SettingDifferences, WhatARowIsJudgedByIsToldAsThat)
{
    Document other = link();
    other.measurements[0].limit.max = 1e-9;
    SettingDifferences found(link(), other);
    EXPECT_FALSE(found.add("tr", "tr", "tr")); // its number does not follow from it
    ASSERT_EQ(found.found().size(), 1u);
    EXPECT_TRUE(found.found()[0].judges);
    EXPECT_EQ(found.found()[0].of, "tr");
    EXPECT_EQ(found.found()[0].second, "1.00 ns");
}

TEST(SettingDifferences, WhatPeopleReadIsNone)
{
    Document other = link();
    other.title = "another";
    other.channels[2].label = "Camera link";
    other.channels[2].ink = "teal";
    other.captures[0].file = "b.npy"; // another record is no setting
    other.captures[0].sha256 = std::string(64, '0');
    EXPECT_THAT(differences(link(), other), IsEmpty());
}

TEST(SettingDifferences, EachIsToldOnceWithItsUnitAndTheRowsThatItMoves)
{
    Document other = link();
    other.levels[0].low = 10;
    other.clocks[0].bandwidth = 1e6;
    const auto found = differences(link(), other);
    ASSERT_EQ(found.size(), 2u);
    EXPECT_EQ(found[0].kind, EntryKind::levels);
    EXPECT_EQ(found[0].of, "fine");
    EXPECT_EQ(found[0].key, "low");
    EXPECT_EQ(found[0].first, "20.0 %");
    EXPECT_EQ(found[0].second, "10.0 %");
    EXPECT_THAT(found[0].rows, ElementsAre("tr"));
    EXPECT_EQ(found[1].of, "loop");
    EXPECT_EQ(found[1].setting, "bandwidth");
    EXPECT_EQ(found[1].first, "1.50 MHz");
    EXPECT_EQ(found[1].second, "1.00 MHz");
    EXPECT_THAT(found[1].rows, UnorderedElementsAre("tie", "eh", "mask"));
}

TEST(SettingDifferences, WhatIsBehindAFormulaCounts)
{
    Document other = link();
    other.parameters[0].value = 2.5e7;
    other.channels[1].delay = 40e-12;
    other.channels[2].formula = "lowpass(p - 2 * n, fc)";
    const auto found = differences(link(), other);
    Words keys;
    for (const SettingDifference &one : found) {
        keys.push_back(one.of + "." + one.key);
        EXPECT_THAT(one.rows, UnorderedElementsAre("tr", "tie", "eh", "mask")) << one.of; // and not that of another one
    }
    EXPECT_THAT(keys, UnorderedElementsAre("link.formula", "fc.value", "n.delay"));
    for (const SettingDifference &one : found) {
        if (one.key == "delay") {
            EXPECT_EQ(one.second, "40.0 ps");
        }
        if (one.key == "value") {
            EXPECT_EQ(one.first, "20.0 MHz");
        }
        if (one.key == "formula") {
            EXPECT_EQ(one.second, "lowpass(p - 2 * n, fc)");
        }
    }
}

/// What is called otherwise is none for it: what counts is what it holds.
TEST(SettingDifferences, NamesAreNone)
{
    Document other = link();
    other.levels[0].id = "steep";
    other.measurements[0].levels = "steep";
    other.clocks[0].id = "pll";
    other.measurements[1].clock = other.eyes[0].clock = "pll";
    EXPECT_THAT(differences(link(), other), IsEmpty());
    other.levels[0].states = "extremes";
    const auto found = differences(link(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "fine");
    EXPECT_NE(found[0].first, found[0].second);
}

TEST(SettingDifferences, TheLevelsThatAreAlwaysThereCount)
{
    Document other = link();
    LevelsEntry own;
    own.low = 30;
    own.high = 70;
    other.levels.push_back(own);
    const auto found = differences(link(), other); // all but one row go by it
    Words keys;
    for (const SettingDifference &one : found) keys.push_back(one.of + "." + one.key);
    EXPECT_THAT(keys, UnorderedElementsAre("default.low", "default.high"));
    EXPECT_EQ(found[0].first, "10.0 %");
}

TEST(SettingDifferences, ARegionThatOneHasAloneIsTold)
{
    Document other = link();
    other.measurements[3].region.clear();
    auto found = differences(link(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "pp");
    EXPECT_EQ(found[0].key, "region");
    EXPECT_EQ(found[0].first, "start_up");
    EXPECT_THAT(found[0].second, HasSubstr("whole"));
    other = link();
    other.regions[0].stop = 3e-6;
    found = differences(link(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].second, "3.00 µs");
    EXPECT_THAT(found[0].rows, ElementsAre("pp"));
}

TEST(SettingDifferences, AnotherMethodIsToldWithWhatItDoesNotHave)
{
    Document other = link();
    other.clocks[0].method = "fixed";
    for (const SettingDifference &one : differences(link(), other)) {
        EXPECT_EQ(one.of, "loop");
        if (one.key == "bandwidth") {
            EXPECT_EQ(one.second, "does not apply");
        }
    }
    EXPECT_THAT(differences(link(), other), testing::SizeIs(testing::Ge(2u)));
}

TEST(SettingDifferences, WhatIsKeptOutOfARowIsOne)
{
    Document other = link();
    other.keptOut.push_back({"ko1", {"tr"}, 1e-6, 2e-6, "the relay clicked"});
    const auto found = differences(link(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "tr");
    EXPECT_EQ(found[0].first, "none");
    EXPECT_EQ(found[0].second, "1 span");
    EXPECT_THAT(found[0].rows, ElementsAre("tr"));
}

} // namespace
} // namespace fulvex
