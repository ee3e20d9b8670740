#include "comparison.h"
#include "document_json.h"
#include "link_document.h"
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

using test::linkDocument;

std::vector<SettingDifference> differences(const Document &first, const Document &second)
{
    SettingDifferences found(first, second);
    for (const char *id : {"tr", "tie", "eh", "pp", "mask"}) found.add(id, id, id);
    return found.found();
}

TEST(SettingDifferences, OfTheSameThereAreNone)
{
    EXPECT_THAT(differences(linkDocument(), linkDocument()), IsEmpty());
}

/// Which record it is, and how large, is no setting: a project that was saved tells it, one that was not does not.
TEST(SettingDifferences, AnotherRecordIsNoSetting)
{
    Document other = linkDocument();
    other.captures[0].file = "b.npy";
    other.captures[0].sha256 = "beef";
    other.captures[0].bytes = 4000128;
    EXPECT_THAT(differences(linkDocument(), other), IsEmpty());
}

TEST(SettingDifferences, WhatARowIsJudgedByIsToldAsThat)
{
    Document other = linkDocument();
    other.measurements[0].limit.max = 1e-9;
    SettingDifferences found(linkDocument(), other);
    EXPECT_FALSE(found.add("tr", "tr", "tr")); // its number does not follow from it
    ASSERT_EQ(found.found().size(), 1u);
    EXPECT_TRUE(found.found()[0].judges);
    EXPECT_EQ(found.found()[0].of, "tr");
    EXPECT_EQ(found.found()[0].second, "1.00 ns");
}

TEST(SettingDifferences, WhatPeopleReadIsNone)
{
    Document other = linkDocument();
    other.title = "another";
    other.channels[2].label = "Camera link";
    other.channels[2].ink = "teal";
    other.captures[0].file = "b.npy"; // another record is no setting
    other.captures[0].sha256 = std::string(64, '0');
    EXPECT_THAT(differences(linkDocument(), other), IsEmpty());
}

TEST(SettingDifferences, EachIsToldOnceWithItsUnitAndTheRowsThatItMoves)
{
    Document other = linkDocument();
    other.levels[0].low = 10;
    other.clocks[0].bandwidth = 1e6;
    const auto found = differences(linkDocument(), other);
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
    Document other = linkDocument();
    other.parameters[0].value = 2.5e7;
    other.channels[1].delay = 40e-12;
    other.channels[2].formula = "lowpass(p - 2 * n, fc)";
    const auto found = differences(linkDocument(), other);
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
    Document other = linkDocument();
    other.levels[0].id = "steep";
    other.measurements[0].levels = "steep";
    other.clocks[0].id = "pll";
    other.measurements[1].clock = other.eyes[0].clock = "pll";
    EXPECT_THAT(differences(linkDocument(), other), IsEmpty());
    other.levels[0].states = "extremes";
    const auto found = differences(linkDocument(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "fine");
    EXPECT_NE(found[0].first, found[0].second);
}

TEST(SettingDifferences, TheLevelsThatAreAlwaysThereCount)
{
    Document other = linkDocument();
    other.levels.push_back({.low = 30, .high = 70});
    const auto found = differences(linkDocument(), other); // all but one row go by it
    Words keys;
    for (const SettingDifference &one : found) keys.push_back(one.of + "." + one.key);
    EXPECT_THAT(keys, UnorderedElementsAre("default.low", "default.high"));
    EXPECT_EQ(found[0].first, "10.0 %");
}

TEST(SettingDifferences, ARegionThatOneHasAloneIsTold)
{
    Document other = linkDocument();
    other.measurements[3].region.clear();
    auto found = differences(linkDocument(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "pp");
    EXPECT_EQ(found[0].key, "region");
    EXPECT_EQ(found[0].first, "start_up");
    EXPECT_THAT(found[0].second, HasSubstr("whole"));
    other = linkDocument();
    other.regions[0].stop = 3e-6;
    found = differences(linkDocument(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].second, "3.00 µs");
    EXPECT_THAT(found[0].rows, ElementsAre("pp"));
}

TEST(SettingDifferences, AnotherMethodIsToldWithWhatItDoesNotHave)
{
    Document other = linkDocument();
    other.clocks[0].method = "fixed";
    for (const SettingDifference &one : differences(linkDocument(), other)) {
        EXPECT_EQ(one.of, "loop");
        if (one.key == "bandwidth") {
            EXPECT_EQ(one.second, "does not apply");
        }
    }
    EXPECT_THAT(differences(linkDocument(), other), testing::SizeIs(testing::Ge(2u)));
}

TEST(SettingDifferences, WhatIsKeptOutOfARowIsOne)
{
    Document other = linkDocument();
    other.keptOut.push_back({"ko1", {"tr"}, 1e-6, 2e-6, "the relay clicked"});
    const auto found = differences(linkDocument(), other);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].of, "tr");
    EXPECT_EQ(found[0].first, "none");
    EXPECT_EQ(found[0].second, "1 span");
    EXPECT_THAT(found[0].rows, ElementsAre("tr"));
}

} // namespace
} // namespace fulvex
