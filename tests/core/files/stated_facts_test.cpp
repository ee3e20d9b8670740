#include "read_file.h"
#include "stated_facts.h"

#include <gmock/gmock.h>

using namespace fulvex;

namespace {

std::string statedIn(const Capture &capture, const std::string &what)
{
    for (const StatedFact &fact : capture.stated)
        if (fact.what == what) return fact.value;
    return "";
}

} // namespace

TEST(StatedFacts, LinesBeforeATableAreKept)
{
    test::TemporaryFolder folder;
    const Capture capture = test::readFile(
        folder.write("a.csv", "Instrument,Scope 7\n# Serial: BW-07\nProbe Attenuation,10\n"
                              "Sample Interval,1e-9\nunits,V\n\"Note\",\"tide, high\"\nch1,ch2\n0,3\n1,1\n7,2\n"));
    EXPECT_EQ(statedIn(capture, "Instrument"), "Scope 7");
    EXPECT_EQ(statedIn(capture, "Serial"), "BW-07");
    EXPECT_EQ(statedIn(capture, "Note"), "tide, high");
    EXPECT_EQ(statedIn(capture, "Sample Interval"), ""); // it is used, and told as that
    EXPECT_EQ(capture.axis.interval, 1e-9);
    EXPECT_THAT(capture.remarks, testing::Contains(testing::HasSubstr("\"Probe Attenuation\" of 10")));
}

TEST(StatedFacts, AUnitEachForTheColumns)
{
    test::TemporaryFolder folder;
    const Capture two = test::readFile(folder.write("two.csv", "units;V;A\na;b\n1;2\n9;4\n5;6\n"));
    ASSERT_EQ(two.columns.size(), 2u);
    EXPECT_EQ(two.columns[0].unit, "V");
    EXPECT_EQ(two.columns[1].unit, "A");
    const Capture timed = test::readFile(folder.write("timed.csv", "units;V;mA\ntime;a;b\n0;1;2\n1;3;4\n2;5;6\n"));
    ASSERT_EQ(timed.columns.size(), 2u);
    EXPECT_EQ(timed.columns[0].unit, "V");
    EXPECT_EQ(timed.columns[1].unit, "A");
    double value = 0;
    timed.columns[1].read(0, std::span(&value, 1));
    EXPECT_DOUBLE_EQ(value, 2e-3);
    const Capture one = test::readFile(folder.write("one.csv", "units;A\na;b\n1;2\n9;4\n5;6\n"));
    EXPECT_EQ(one.columns[0].unit, "A");
    EXPECT_EQ(one.columns[1].unit, "A");
}

TEST(StatedFacts, TextsBesideArraysAndInAudioAreKept)
{
    const std::string fixtures = std::string(FULVEX_FIXTURES) + "/";
    EXPECT_EQ(statedIn(test::readFile(fixtures + "level5.mat"), "title"), "made up");
    EXPECT_EQ(statedIn(test::readFile(fixtures + "plain.h5"), "sample_interval"), "2e-09");
    EXPECT_EQ(statedIn(test::readFile(fixtures + "chunked.h5"), "start_time"), "1e-06");
    test::TemporaryFolder folder;
    const auto chunk = [](const std::string &id, const std::string &body) {
        std::string size(4, '\0');
        for (std::size_t i = 0; i < 4; ++i) size[i] = char(body.size() >> (8 * i));
        return id + size + body + (body.size() % 2 ? std::string(1, '\0') : "");
    };
    const std::string format("\x01\x00\x01\x00\x80\xBB\x00\x00\x00\x77\x01\x00\x02\x00\x10\x00", 16);
    const std::string info = "INFO" + chunk("INAM", "tide") + chunk("ISFT", std::string("recorder 2\0", 11));
    const std::string body = "WAVE" + chunk("fmt ", format) + chunk("LIST", info) + chunk("data", "abcdefgh");
    const Capture sound = test::readFile(folder.write("a.wav", chunk("RIFF", body)));
    EXPECT_EQ(statedIn(sound, "title"), "tide");
    EXPECT_EQ(statedIn(sound, "software"), "recorder 2");
}

TEST(StatedFacts, AreBoundedAndReadable)
{
    std::vector<StatedFact> stated;
    addStated(stated, "", "x");
    addStated(stated, "x", "");
    addStated(stated, std::string(500, 'a'), "x");
    EXPECT_TRUE(stated.empty());
    addStated(stated, " a ", std::string(5000, 'b'));
    EXPECT_EQ(stated[0].what, "a");
    EXPECT_LT(stated[0].value.size(), 310u);
    for (int i = 0; i < 1000; ++i) addStated(stated, "n" + std::to_string(i), "\x1b[31m");
    EXPECT_EQ(stated.size(), StatedFact::most);
    EXPECT_EQ(stated[1].value.find('\x1b'), std::string::npos);
}

TEST(StatedFacts, AProbesFactorIsUnderstoodHoweverItIsWritten)
{
    for (const char *ten : {"10", "10x", "10X", "x10", "10:1", " 10.0 "})
        EXPECT_EQ(statedProbeFactor({"Probe Attenuation", ten}), 10) << ten;
    EXPECT_EQ(statedProbeFactor({"probe_ratio", "100:1"}), 100);
    EXPECT_FALSE(statedProbeFactor({"Probe Attenuation", "none"}));
    EXPECT_FALSE(statedProbeFactor({"Probe", "0"}));
    EXPECT_FALSE(statedProbeFactor({"Problem", "10"}));
    EXPECT_FALSE(statedProbeFactor({"Probe serial", "10"}));
}
