#include "error.h"
#include "link_document.h"
#include "make_alike.h"

#include <gmock/gmock.h>

namespace fulvex {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

/// A link of two legs, of which two rows go by the same levels.
Document link()
{
    Document document = test::linkDocument();
    MeasurementEntry fall = document.measurements[0];
    fall.id = "tf";
    fall.quantity = "fall_time";
    document.measurements.insert(document.measurements.begin() + 1, fall);
    document.measurements[4].source = "p";
    return document;
}

ComparedResult resultOf(const Document &document)
{
    ComparedResult result;
    result.document = std::make_shared<const Document>(document);
    for (const MeasurementEntry &row : document.measurements) {
        result.numbers.emplace_back();
        result.numbers.back().id = row.id;
        result.numbers.back().quantity = row.quantity;
    }
    for (const MaskEntry &mask : document.masks) {
        result.numbers.emplace_back();
        result.numbers.back().kind = EntryKind::mask;
        result.numbers.back().id = mask.id;
    }
    return result;
}

Comparison comparisonOf(const Document &first, const Document &second)
{
    return compared(resultOf(first), resultOf(second));
}

Document alike(const Document &second, const Document &first)
{
    const Comparison found = comparisonOf(first, second);
    Document made = madeAlike(second, first, found, found.settings);
    validate(made);
    return made;
}

/// What is still set differently, in words.
std::vector<std::string> leftOf(const Document &first, const Document &made)
{
    std::vector<std::string> words;
    for (const SettingDifference &one : comparisonOf(first, made).settings)
        words.push_back(one.key + " of " + one.of + ": " + one.first + ", " + one.second);
    return words;
}

TEST(MakeAlike, TakesEverySettingThatDiffers)
{
    using Change = std::function<void(Document &)>;
    const std::vector<Change> changes{
        [](Document &d) { d.parameters[0].value = 3e7; },
        [](Document &d) { d.levels[0].low = 10; },
        [](Document &d) { d.levels[0].states = "extremes"; },
        [](Document &d) { d.clocks[0].bandwidth = 4e6; },
        [](Document &d) { d.clocks[0].method = "fixed"; },
        [](Document &d) { d.channels[1].delay = 4e-11; },
        [](Document &d) { d.channels[2].formula = "lowpass(n - p, fc)"; },
        [](Document &d) { d.channels[2].formula = "p - n"; },
        [](Document &d) { d.captures[0].import.sampleInterval = 2e-10; },
        [](Document &d) { d.regions[0].stop = 3e-6; },
        [](Document &d) { d.measurements[4].region.clear(); },
        [](Document &d) { d.measurements[0].levels = "default"; },
        [](Document &d) { d.measurements[1].limit.max = 1e-9; },
        [](Document &d) { d.masks[0].margin = 0.1; },
        [](Document &d) { d.eyes[0].width = 3; },
        [](Document &d) {
            d.keptOut.push_back({"out", {"tr"}, 1e-6, 2e-6, "a glitch"});
        },
    };
    // Each of them, and each together with every other, either way round.
    for (std::size_t i = 0; i < changes.size(); ++i) {
        for (std::size_t k = 0; k < changes.size(); ++k) {
            Document other = link();
            changes[i](other);
            changes[k](other);
            for (const auto &[first, second] : {std::pair(link(), other), std::pair(other, link())}) {
                const Document made = alike(second, first);
                EXPECT_THAT(leftOf(first, made), IsEmpty()) << i << " " << k;
            }
        }
    }
}

/// Of hundreds of rows that stand on what is set, one goes by other levels: it gets some like theirs.
TEST(MakeAlike, ManyRowsStandOnOneSet)
{
    Document first = link(), second = link();
    for (Document *document : {&first, &second}) {
        for (int i = 0; i < 400; ++i) {
            MeasurementEntry row = document->measurements[0];
            row.id = "row" + std::to_string(i);
            document->measurements.push_back(row);
        }
    }
    first.levels[0].low = 10;
    second.measurements[7].levels = "default";
    const Document made = alike(second, first);
    EXPECT_THAT(leftOf(first, made), IsEmpty());
    EXPECT_EQ(made.levels.size(), 2u);
    EXPECT_EQ(made.levelsOf(made.measurements[7].levels).low, 10);
}

TEST(MakeAlike, TakesWhatIsWantedAlone)
{
    Document other = link();
    other.levels[0].low = 10;
    other.clocks[0].bandwidth = 4e6;
    const Comparison found = comparisonOf(link(), other);
    ASSERT_EQ(found.settings.size(), 2u);
    EXPECT_EQ(found.settings[0].key, "low");
    const Document made = madeAlike(other, link(), found, std::span(found.settings).first(1));
    EXPECT_EQ(made.levels[0].low, 20);
    EXPECT_EQ(made.clocks[0].bandwidth, 4e6);
    EXPECT_TRUE(made.levels.size() == 1) << "the levels that are always there stay unwritten";
}

TEST(MakeAlike, LeavesFilesTitlesAndSheetsAsTheyAre)
{
    Document other = link();
    other.title = "bench 2";
    other.captures[0].file = "b.npy";
    other.captures[0].sha256 = "beef";
    other.levels[0].low = 10;
    other.sheets.push_back({"s", "Sheet", {}, {}, {}});
    const Document made = alike(other, link());
    other.levels[0].low = 20;
    EXPECT_TRUE(made == other);
}

/// One set of levels there, two here: changing the one would put rows wrong that were right.
TEST(MakeAlike, PartsWhatIsSharedThere)
{
    Document first = link(), second = link();
    first.levels.push_back(first.levels[0]);
    first.levels[1].id = "coarse";
    first.measurements[1].levels = "coarse";
    first.levels[0].low = 30;
    const Document made = alike(second, first);
    EXPECT_THAT(leftOf(first, made), IsEmpty());
    EXPECT_NE(made.measurements[0].levels, made.measurements[1].levels);
    EXPECT_EQ(made.levelsOf(made.measurements[0].levels).low, 30);
    EXPECT_EQ(made.levelsOf(made.measurements[1].levels).low, 20);
}

TEST(MakeAlike, BringsOverWhatIsNotThere)
{
    Document first = link(), second = link();
    ClockEntry clock = first.clocks[0];
    clock.id = "slow";
    clock.bandwidth = 1e5;
    first.clocks.push_back(clock);
    first.measurements[0].region = "start_up";
    second.regions.clear();
    second.measurements[4].region.clear();
    second.regions.push_back({"start_up", 5e-6, 6e-6}); // another one of that name
    const Document made = alike(second, first);
    EXPECT_THAT(leftOf(first, made), IsEmpty());
    EXPECT_EQ(made.regions.size(), 2u);
    EXPECT_EQ(made.clocks.size(), 1u) << "nothing compared stands on the other clock";
}

TEST(MakeAlike, FormulasMayCallTheirChannelsOtherwise)
{
    Document first = link(), second = link();
    first.channels[2].formula = "highpass(p - n, fc)";
    second.channels[0].id = "plus";
    second.channels[2].formula = "lowpass(plus - n, fc)";
    second.measurements[4].source = "plus";
    const Document made = alike(second, first);
    EXPECT_EQ(made.channels[2].formula, "highpass(plus - n, fc)");
}

TEST(MakeAlike, NamesMayHaveChangedPlaces)
{
    Document first = link(), second = link();
    first.channels[2].formula = "highpass(p - n, fc)";
    second.channels[0].id = "n";
    second.channels[1].id = "p";
    second.channels[0].column = 0;
    second.channels[2].formula = "lowpass(n - p, fc)";
    second.measurements[4].source = "n";
    const Document made = alike(second, first);
    EXPECT_THAT(leftOf(first, made), IsEmpty());
}

TEST(MakeAlike, AnotherRecordIsNotBrought)
{
    Document first = link(), second = link();
    first.captures.push_back({"r2", "b.npy", {}, {}});
    first.captures[1].import.sampleInterval = 1e-10;
    ChannelEntry channel = first.channels[0];
    channel.id = "far";
    channel.capture = "r2";
    first.channels.push_back(channel);
    first.channels[2].formula = "lowpass(p - n, fc) + far";
    const Comparison found = comparisonOf(first, second);
    try {
        madeAlike(second, first, found, found.settings);
        FAIL();
    } catch (const Error &error) {
        EXPECT_THAT(error.what(), HasSubstr("r2: is a record that the other one does not have"));
    }
}

} // namespace
} // namespace fulvex
