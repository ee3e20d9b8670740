// Tables as instruments write them: encodings, quotes, numbers beyond doubles, and lines that no table has.

#include "read_file.h"
#include "text_cells.h"

#include <algorithm>
#include <cmath>
#include <gmock/gmock.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

double valueOf(const Capture &capture, std::size_t column, std::int64_t sample)
{
    double value = 0;
    capture.columns[column].read(sample, std::span(&value, 1));
    return value;
}

} // namespace

TEST(TextEncoding, Latin1UnitsMeanWhatTheySayAsUtf8OnesDo)
{
    const std::string rows = "0,1\n1,2\n2,1\n3,2\n";
    for (const std::string &header : {std::string("t (\xB5s),CH1 (\xB5V)\n"), std::string("t (µs),CH1 (µV)\n")}) {
        const Capture capture = test::readBytes("a.csv", header + rows);
        EXPECT_NEAR(capture.axis.interval, 1e-6, 1e-18);
        EXPECT_NEAR(valueOf(capture, 0, 1), 2e-6, 1e-18);
        EXPECT_EQ(capture.columns[0].unit, "V");
        EXPECT_EQ(capture.columns[0].name, "CH1");
    }
    // Places of what was understood are places in the file, whatever its signs take as UTF-8.
    const std::string latin = "Messger\xE4t \xB5\xB5\xB5\nsample interval: 2e-9\nSpannung (mV)\n1\n2\n3\n";
    const Capture capture = test::readBytes("a.csv", latin);
    EXPECT_EQ(capture.axis.interval, 2e-9);
    const auto fact = std::find_if(capture.facts.begin(), capture.facts.end(),
                                   [](const ReadFact &one) { return one.what == "sample interval"; });
    ASSERT_NE(fact, capture.facts.end());
    EXPECT_EQ(latin.substr(fact->offset, fact->length), "sample interval: 2e-9");
}

TEST(TextEncoding, ASeparatorWithinQuotesSeparatesNothing)
{
    const Capture capture =
        test::readBytes("a.csv", "time (s),\"left, upper\",\"right \"\"b\"\", lower\"\n0,1,4\n1,2,5\n2,3,6\n");
    ASSERT_EQ(capture.columns.size(), 2u);
    EXPECT_EQ(capture.columns[0].name, "left, upper");
    EXPECT_EQ(valueOf(capture, 1, 2), 6);
    const Capture decimals = test::readBytes("a.csv", "\"0,0\",\"1,5\"\n\"0,1\",\"2,5\"\n\"0,2\",\"3,5\"\n");
    EXPECT_EQ(valueOf(decimals, decimals.columns.size() - 1, 2), 3.5);
    std::vector<std::string_view> cells;
    splitCells("1,\"2,3", ',', cells); // a quote that never closes is a sign like others
    EXPECT_EQ(cells.size(), 3u);
    splitCells("\"a b\" c", ' ', cells);
    EXPECT_EQ(cells, (std::vector<std::string_view>{"\"a b\"", "c"}));
}

TEST(TextEncoding, ANumberBeyondDoublesIsAGapThatIsToldAndOneBelowThemZero)
{
    for (const char *huge : {"1e400", "-1E+309", "123e999999999999", "0.001e320",
                             "1"
                             "000000000"
                             "e300"}) {
        const Cell cell = parseCell(huge, '.');
        EXPECT_EQ(cell.kind, CellKind::beyond) << huge;
        EXPECT_TRUE(std::isnan(cell.value)) << huge;
    }
    for (const char *tiny : {"1e-400", "-1e-99999999999", "0.0000001e-320", "0e999"}) {
        EXPECT_EQ(parseCell(tiny, '.').kind, CellKind::number) << tiny;
        EXPECT_EQ(parseCell(tiny, '.').value, 0) << tiny;
    }
    const Capture capture = test::readBytes("a.csv", "v\n1\n1e400\n3\n-1e400\n");
    EXPECT_TRUE(std::isnan(valueOf(capture, 0, 1)));
    EXPECT_EQ(valueOf(capture, 0, 2), 3);
    EXPECT_THAT(capture.doubts, testing::Contains(HasSubstr("2 cells hold numbers too large")));
}

TEST(TextEncoding, WideTablesAndEndlessLinesAreRefusedInTimeThatGrowsWithThemAlone)
{
    const auto table = [](std::size_t columns) {
        std::string row = "1";
        for (std::size_t i = 1; i < columns; ++i) row += ",1";
        return row + "\n" + row + "\n" + row + "\n";
    };
    EXPECT_EQ(test::readBytes("a.csv", table(4096)).columns.size(), 4096u);
    for (const std::size_t columns : {4097u, 5000u, 100'000u, 2'000'000u})
        EXPECT_THAT(test::errorReading("a.csv", table(columns)), HasSubstr("columns")) << columns;
    EXPECT_THAT(test::errorReading("a.csv", table(100'000)), HasSubstr("line 1: has more than 4096 columns"));
    EXPECT_THAT(test::errorReading("a.csv", "1,2\n3,4\n5,6\n" + table(3'000'000)), HasSubstr("line 4: "));
    EXPECT_THAT(test::readBytes("a.csv", std::string(20'000'000, '7')).doubts,
                testing::Contains(HasSubstr("too large"))); // one endless number
}
