#include "read_file.h"
#include "signals.h"
#include "text_cells.h"
#include "text_reader.h"

#include <bit>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <random>

using namespace fulvex;

namespace {

struct Dialect {
    const char *name, *table;
    std::size_t channels;
    double interval, start, second; ///< second sample of the first channel
    bool timed;
};

const Dialect dialects[] = {
    {"comma", "0,1.5\n1e-9,2.5\n2e-9,3.5\n", 1, 1e-9, 0, 2.5, true},
    {"comma and header", "Time,CH1,CH2\n0,1.5,9\n1e-9,2.5,8\n2e-9,3.5,7\n", 2, 1e-9, 0, 2.5, true},
    {"semicolon and decimal comma", "Zeit;U\n0,0;1,5\n0,1;2,5\n0,2;3,5\n", 1, 0.1, 0, 2.5, true},
    {"tab", "t\tv\n0\t1.5\n1\t2.5\n2\t3.5\n", 1, 1, 0, 2.5, true},
    {"tab and decimal comma", "t\tv\n0,0\t1,5\n0,5\t2,5\n1,0\t3,5\n", 1, 0.5, 0, 2.5, true},
    {"CRLF and BOM", "\xEF\xBB\xBFTime,CH1\r\n0,1.5\r\n1,2.5\r\n2,3.5\r\n", 1, 1, 0, 2.5, true},
    {"unit row", "Time,CH1\nus,mV\n0,1500\n1,2500\n2,3500\n", 1, 1e-6, 0, 2.5, true},
    {"units in brackets", "Time (ms),CH1 [mV]\n0,1500\n1,2500\n2,3500\n", 1, 1e-3, 0, 2.5, true},
    {"no time", "CH1,CH2\n1.5,9\n2.5,8\n3.0,9\n", 2, 0, 0, 2.5, false},
    {"one column", "1.5\n2.5\n3.5\n4.5\n", 1, 0, 0, 2.5, false},
    {"one column and name", "volts\n1.5\n2.5\n3.5\n", 1, 0, 0, 2.5, false},
    {"blanks", "  0   1.5\n  1   2.5\n  2   3.5\n", 1, 1, 0, 2.5, true},
    {"comment lines", "# made by hand\n# twice\nTime,CH1\n0,1.5\n1,2.5\n2,3.5\n", 1, 1, 0, 2.5, true},
    {"trailing separators", "Time,CH1,\n0,1.5,\n1,2.5,\n2,3.5,\n", 1, 1, 0, 2.5, true},
    {"empty lines", "Time,CH1\n\n0,1.5\n1,2.5\n\n2,3.5\n\n", 1, 1, 0, 2.5, true},
    {"no last line end", "Time,CH1\n0,1.5\n1,2.5\n2,3.5", 1, 1, 0, 2.5, true},
    {"negative start", "Time,CH1\n-2e-9,1.5\n-1e-9,2.5\n0,3.5\n", 1, 1e-9, -2e-9, 2.5, true},
    {"scientific and plus signs", "Time,CH1\n+0.0E+00,+1.5E+00\n+1.0E-06,+2.5E+00\n+2.0E-06,+3.5E+00\n", 1, 1e-6, 0,
     2.5, true},
    {"quoted header", "\"Time\",\"CH1\"\n0,1.5\n1,2.5\n2,3.5\n", 1, 1, 0, 2.5, true},
    {"times with few digits", "Time,CH1\n0.00,1.5\n0.33,2.5\n0.67,3.5\n1.00,4.5\n", 1, 1.0 / 3, 0, 2.5, true},
    {"stated interval with colon", "Recorder: by hand\nSample Interval: 2 ns\nCH1\n1.5\n2.5\n3.5\n", 1, 2e-9, 0, 2.5,
     true},
    {"stated interval in a cell", "Sample Interval,2e-9\nPoints,3\nCH1,CH2\n1.5,9\n2.5,8\n3.0,9\n", 2, 2e-9, 0, 2.5,
     true},
    {"stated interval with its unit beside", "Sample Interval,2,ns\n\nCH1,CH2,CH3\n1.5,9,1\n2.5,8,1\n3.0,9,2\n", 3,
     2e-9, 0, 2.5, true},
    {"stated rate", "# sample rate = 500 MHz\n# start time = -1 us\nv\n1.5\n2.5\n3.5\n", 1, 2e-9, -1e-6, 2.5, true},
    {"stated rate and decimal comma", "Sampling rate (kHz);0,5\nU1;U2\n1,5;9,0\n2,5;8,0\n3,0;9,0\n", 2, 2e-3, 0, 2.5,
     true},
    {"stated interval and times",
     "Sample interval (s): 0.3333333333333333\nTime,CH1\n0.00,1.5\n0.33,2.5\n0.67,3.5\n1.00,4.5\n", 1,
     0.3333333333333333, 0, 2.5, true},
    {"units for all", "Vertical units: mV\nTime (ms),CH1\n0,1500\n1,2500\n2,3500\n", 1, 1e-3, 0, 2.5, true},
    {"pairs that share their times", "t1,CH1,t2,CH2\n0,1.5,0,9\n1,2.5,1,8\n2,3.5,2,7\n", 2, 1, 0, 2.5, true},
    {"an empty column between", "Time,CH1,,CH2\n0,1.5,,9\n1,2.5,,8\n2,3.5,,7\n", 2, 1, 0, 2.5, true},
    {"several header rows", "Made up\nChannel,one,two\nProbe,10,10\nTime,CH1,CH2\ns,V,V\n0,1.5,9\n1,2.5,8\n2,3.5,7\n",
     2, 1, 0, 2.5, true},
    {"a gap in the first row", "Time,CH1,CH2\n0,1.5,\n1,2.5,8\n2,3.5,7\n", 2, 1, 0, 2.5, true},
    {"comments with percent signs", "% made up\n% t v\n0 1.5\n1 2.5\n2 3.5\n", 1, 1, 0, 2.5, true},
    {"a running number before the time", "Index,Time,CH1\n0,5,1.5\n1,6,2.5\n2,7,3.5\n", 1, 1, 5, 2.5, true},
    {"carriage returns and tabs", "t\tv\tw\r\n0\t1.5\t1\r\n1\t2.5\t2\r\n2\t3.5\t1\r\n", 2, 1, 0, 2.5, true},
    {"metadata before the table", "Model,hand\nPoints,3\nTime,CH1\n0,1.5\n1,2.5\n2,3.5\n3,4.5\n", 1, 1, 0, 2.5, true},
};

class TextDialects : public testing::TestWithParam<Dialect> {};

} // namespace

TEST_P(TextDialects, AreReadRight)
{
    const Dialect &dialect = GetParam();
    const Capture capture = test::readBytes("t.csv", dialect.table);
    EXPECT_EQ(capture.columns.size(), dialect.channels);
    EXPECT_EQ(capture.intervalKnown, dialect.timed);
    if (dialect.timed) {
        EXPECT_NEAR(capture.axis.interval, dialect.interval, 1e-12 * dialect.interval);
        EXPECT_NEAR(capture.axis.start, dialect.start, 1e-20);
    }
    EXPECT_DOUBLE_EQ(test::samplesOf(capture, 0)[1], dialect.second);
}

INSTANTIATE_TEST_SUITE_P(All, TextDialects, testing::ValuesIn(dialects), [](const auto &given) {
    std::string name = given.param.name;
    for (char &c : name) c = std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    return name;
});

TEST(TextReader, QuotedTitlesAreNamesWhateverStandsInThem)
{
    for (const char *table :
         {"\"t (ms)\";\"left; \"\"upper\"\" (mV)\"\n\"0,0\";\"1500\"\n\"0,5\";\"2500,0\"\n\"1,0\";\"3500\"\n",
          "\"t (ms)\",\"left; \"\"upper\"\" (mV)\"\n0.0,1500\n0.5,2500\n1.0,3500\n"}) {
        const Capture capture = test::readBytes("t.csv", table);
        ASSERT_EQ(capture.columns.size(), 1u);
        EXPECT_EQ(capture.columns[0].name, "left; \"upper\"");
        EXPECT_EQ(capture.columns[0].unit, "V");
        EXPECT_NEAR(capture.axis.interval, 0.5e-3, 1e-15);
        EXPECT_EQ(test::samplesOf(capture, 0)[1], 2.5);
    }
    const Capture stated =
        test::readBytes("t.csv", "\"Sample Interval\",\"2e-9\"\n\"CH1\",\"CH2\"\n1.5,9\n2.5,8\n3.0,9\n");
    EXPECT_EQ(stated.axis.interval, 2e-9);
    EXPECT_EQ(stated.columns[0].name, "CH1");
}

/// Signs of one to four bytes in UTF-8, the last of two units in UTF-16.
TEST(TextReader, Utf16IsReadInBothByteOrders)
{
    const std::u16string table = u"Zeit (\u00B5s);\u03A9 \u4E2D \U0001D11E (mV)\r\n0,0;1500\r\n0,5;2500\r\n1,0;\r\n";
    for (const bool big : {false, true}) {
        std::string wide = big ? "\xFE\xFF" : "\xFF\xFE";
        for (const char16_t unit : table) {
            const char high = char(unit >> 8), low = char(unit & 0xFF);
            wide += {big ? high : low, big ? low : high};
        }
        const Capture capture = test::readBytes("t.csv", wide);
        ASSERT_EQ(capture.columns.size(), 1u);
        EXPECT_NEAR(capture.axis.interval, 0.5e-6, 1e-15);
        EXPECT_EQ(capture.columns[0].name, "\u03A9 \u4E2D \U0001D11E");
        EXPECT_EQ(test::samplesOf(capture, 0)[1], 2.5);
        EXPECT_TRUE(std::isnan(test::samplesOf(capture, 0)[2]));
    }
}

TEST(TextReader, FactsTellWhereTheyStand)
{
    const std::string table = "\xEF\xBB\xBF# Recorder: by hand\n# Sample rate: 2 MHz\n# Start time: 5 "
                              "us\nCH1,CH2\nV,A\n1.5,9\n2.5,8\n3.0,9\n";
    const Capture capture = test::readBytes("t.csv", table);
    std::vector<std::pair<std::string, std::string>> found;
    for (const ReadFact &fact : capture.facts) found.emplace_back(fact.what, table.substr(fact.offset, fact.length));
    const std::vector<std::pair<std::string, std::string>> expected{{"sample interval", "# Sample rate: 2 MHz"},
                                                                    {"start", "# Start time: 5 us"},
                                                                    {"names", "CH1,CH2"},
                                                                    {"units", "V,A"}};
    EXPECT_EQ(found, expected);
    EXPECT_EQ(capture.facts[0].value, "500.000 ns");
    EXPECT_DOUBLE_EQ(capture.axis.start, 5e-6);
}

TEST(TextReader, WhatIsNotPlainIsNotTaken)
{
    // A rate of the display, an interval of zero, a word for a number, a unit that does not fit.
    const Capture capture = test::readBytes(
        "t.csv", "Refresh rate: 60 Hz\nSample interval: 0\nSample rate: fast\nStart: 5 V\nv\n1.5\n2.5\n3.5\n");
    EXPECT_FALSE(capture.intervalKnown);
    EXPECT_EQ(capture.axis.start, 0);
    const Capture torn = test::readBytes("t.csv", "Sample interval: 1\nTime,CH1\n0,1.5\n2,2.5\n4,3.5\n");
    EXPECT_EQ(torn.axis.interval, 2); // the times count
    EXPECT_THAT(torn.remarks, testing::Contains(testing::HasSubstr("the times are used")));
}

TEST(TextReader, NamesAndUnitsComeAlong)
{
    const Capture capture = test::readBytes("t.csv", "Time (us),Pod A [mV],B/V\n0,1,2\n1,2,3\n2,3,4\n");
    EXPECT_EQ(capture.columns[0].name, "Pod A");
    EXPECT_EQ(capture.columns[0].unit, "V");
    EXPECT_EQ(capture.columns[1].name, "B");
    EXPECT_EQ(capture.columns[1].unit, "V");
    EXPECT_DOUBLE_EQ(test::samplesOf(capture, 0)[1], 0.002);
    EXPECT_EQ(capture.remarks, std::vector<std::string>{"column 1 is in mV: its values are taken in V"});
}

TEST(TextReader, EmptyAndNanCellsAreGaps)
{
    const std::vector<double> values =
        test::samplesOf(test::readBytes("t.csv", "t,a,b\n0,1,1\n1,,1\n2,nan,1\n3,4,1\n4,-inf,1\n"), 0);
    EXPECT_EQ(values[0], 1);
    EXPECT_TRUE(std::isnan(values[1]));
    EXPECT_TRUE(std::isnan(values[2]));
    EXPECT_EQ(values[3], 4);
    EXPECT_TRUE(std::isnan(values[4]));
}

TEST(TextReader, OptionsOverruleTheFile)
{
    ImportOptions options;
    options.timeColumn = std::optional<ImportOptions::Column>();
    options.sampleInterval = 2e-9;
    options.start = 5;
    const Capture none = test::readBytes("t.csv", "Time,CH1\n0,1.5\n1,2.5\n2,3.5\n", options);
    EXPECT_EQ(none.columns.size(), 2u);
    EXPECT_EQ(none.axis.interval, 2e-9);
    EXPECT_EQ(none.axis.start, 5);
    options = {};
    options.timeColumn = ImportOptions::Column(std::string("when"));
    const Capture named = test::readBytes("t.csv", "a,when\n1,0\n2,0.5\n3,1\n", options);
    EXPECT_EQ(named.axis.interval, 0.5);
    options = {};
    options.separator = '|';
    options.decimal = '.';
    EXPECT_EQ(test::readBytes("t.csv", "1|2\n9|4\n5|6\n", options).columns.size(), 2u);
}

TEST(TextReader, DoublesAreTheNearestToTheText)
{
    std::mt19937_64 random(5);
    std::string table = "a,b\n";
    std::vector<double> truth;
    for (int i = 0; i < 20000; ++i) {
        double value;
        do {
            const std::uint64_t bits = random();
            std::memcpy(&value, &bits, 8);
        } while (!std::isfinite(value));
        char text[64];
        std::snprintf(text, sizeof text, "%.17g,1\n", value);
        table += text;
        truth.push_back(value);
    }
    EXPECT_EQ(test::samplesOf(test::readBytes("t.csv", table), 0), truth);
}

TEST(TextReader, ALongTableIsCutIntoPartsWithoutLoss)
{
    std::string table = "t;v\n";
    for (int i = 0; i < 300000; ++i) table += std::to_string(i) + ";" + std::to_string(i % 1000) + "\n"; // several MiB
    const Capture capture = test::readBytes("t.csv", table);
    const std::vector<double> values = test::samplesOf(capture, 0);
    ASSERT_EQ(values.size(), 300000u);
    for (std::size_t i = 0; i < values.size(); ++i) ASSERT_EQ(values[i], double(i % 1000));
}

TEST(TextReader, RowsThatAreMissingAreGaps)
{
    const Capture capture = test::readBytes("t.csv", "Time,a\n0,1\n1,2\n2,3\n5,4\n6,5\n7,6\n");
    EXPECT_EQ(capture.axis.count, 8);
    EXPECT_EQ(capture.axis.interval, 1);
    std::vector<double> values(8);
    capture.columns[0].read(0, values);
    EXPECT_EQ(values[2], 3);
    EXPECT_TRUE(std::isnan(values[3]) && std::isnan(values[4]));
    EXPECT_EQ(values[5], 4);
    ASSERT_EQ(capture.doubts.size(), 1u);
    EXPECT_THAT(capture.doubts[0], testing::StartsWith("2 of 8 rows are missing"));
}

TEST(TextReader, BrokenTablesSayWhereAndHow)
{
    EXPECT_EQ(test::errorReading("t.csv", "t,a\n0,1\n1,2\n2,x3\n3,4\n"),
              "t.csv: line 4: column 1: \"x3\" is not a number; mend the cell, or leave it empty for a gap");
    EXPECT_EQ(test::errorReading("t.csv", "t,a\n0,1\n1,2\n2,3\n3,4\n4\n5,6\n"),
              "t.csv: line 6: 1 columns where the rows above have 2; mend the row or set \"separator\"");
    EXPECT_THAT(
        test::errorReading("t.csv", "t,a\n0,1\n1,2\n2,3\n3"),
        testing::HasSubstr("line 5: 1 columns where the rows above have 2; the file seems to end within a row"));
    EXPECT_THAT(test::errorReading("t.csv", "Time,a\n0,1\n1,2\n5.5,3\n6.5,4\n7.5,5\n"),
                testing::HasSubstr("off a uniform grid"));
    EXPECT_THAT(test::errorReading("t.csv", "Time,a\n0,1\n1,2\n0.5,3\n2,4\n"),
                testing::HasSubstr("line 4: the time runs backwards or stands still"));
    EXPECT_THAT(test::errorReading("t.csv", "no numbers\nat all 5x\n"),
                testing::HasSubstr("line 1: no row of numbers in the first 64 lines"));
    ImportOptions options;
    options.timeColumn = ImportOptions::Column(7);
    EXPECT_THAT(test::errorReading("t.csv", "0,1\n1,2\n", options),
                testing::HasSubstr("has no column 7 for \"time_column\": it has 2; count columns from 0"));
    options = {};
    options.format = "xyz";
    EXPECT_THAT(test::errorReading("t.csv", "0,1\n1,2\n", options),
                testing::HasSubstr("the format \"xyz\" cannot be read by this version; it reads: npy, npz"));
}

TEST(TextNumbers, PlainOnesAreTheSameToTheLastBitAsFromChars)
{
    test::Gaussian random(11);
    std::vector<std::string> numbers{"0",
                                     "-0",
                                     "0.0",
                                     ".5",
                                     "5.",
                                     "-.5e3",
                                     "1e22",
                                     "1e-22",
                                     "9007199254740992",
                                     "1E+05",
                                     "1e+022",
                                     "123456789012345678",
                                     "0.1",
                                     "12345678",
                                     "123456789",
                                     "00000000.5",
                                     "1.7976931348623157e308",
                                     "4.9e-324",
                                     "9007199254740993",
                                     "1e23",
                                     "8.5e-23",
                                     "1234567890123456789012"};
    for (int i = 0; i < 20000; ++i) {
        char digits[40];
        const double value = random() * std::pow(10, 40 * random.uniform() - 20);
        const char *const formats[] = {"%.3f", "%.8e", "%.17g", "%g", "%.12e", "%.0f"};
        std::snprintf(digits, sizeof digits, formats[i % 6], value);
        if (std::strlen(digits) < 39) numbers.push_back(digits);
    }
    int taken = 0;
    for (const std::string &text : numbers) {
        double expected = 0, found = 0;
        std::from_chars(text.data(), text.data() + text.size(), expected);
        for (const char *behind : {"", ",", "\n1", "x"}) {
            const std::string cell = text + behind;
            const char *at = cell.data();
            if (!takePlainNumber(at, cell.data() + cell.size(), found)) {
                EXPECT_EQ(at, cell.data());
                continue;
            }
            ++taken;
            EXPECT_EQ(at - cell.data(), std::ptrdiff_t(text.size())) << text;
            EXPECT_EQ(std::bit_cast<std::uint64_t>(found), std::bit_cast<std::uint64_t>(expected)) << text;
        }
    }
    EXPECT_GT(taken, 40000); // most are plain
    for (const char *none : {"", "-", ".", "e5", "nan", "1e", "1e+", "+", "--1", ",", "x1"}) {
        const char *at = none;
        double value = 7;
        EXPECT_FALSE(takePlainNumber(at, none + std::strlen(none), value)) << none;
        EXPECT_EQ(value, 7);
    }
}
