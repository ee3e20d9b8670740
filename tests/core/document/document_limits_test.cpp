// Documents that are larger, deeper or more absurd than anybody would make them by hand: refused with a message, or
// taken, in time that grows with their length alone.

#include "document_json.h"
#include "error.h"
#include "formula.h"

#include <gmock/gmock.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

std::string said(const std::string &members)
{
    try {
        parseDocument("{\"fulvex\": 1, " + members + "}", "d");
        return "taken";
    } catch (const Error &error) {
        return error.what();
    }
}

std::string tileAt(const std::string &place)
{
    return R"("sheets": [{"id": "s", "title": "S", "tiles": [{"kind": "traces", "of": [], )" + place + "}]}]";
}

const std::string capture = R"("captures": [{"id": "c", "file": "a.npy"}], )";

/// Channels c0 … of which each adds the one before, listed backwards.
std::string chain(int length)
{
    std::string text = capture + "\"channels\": [";
    for (int i = length; i > 0; --i)
        text += "{\"id\": \"c" + std::to_string(i) + "\", \"formula\": \"c" + std::to_string(i - 1) + " + 1\"}, ";
    return text + R"({"id": "c0", "capture": "c"}])";
}

} // namespace

TEST(DocumentLimits, TilesLieOnAGridThatCanBeLookedAt)
{
    EXPECT_THAT(said(tileAt(R"("row": -1, "column": 0)")), HasSubstr("sheets[0].tiles[0].row: is -1; count from 0"));
    EXPECT_THAT(said(tileAt(R"("row": 1000000000, "column": 0)")), HasSubstr("tiles[0].row: is 1000000000"));
    EXPECT_THAT(said(tileAt(R"("row": 0, "column": 0, "row_span": 1000000000)")), HasSubstr("row_span"));
    EXPECT_THAT(said(tileAt(R"("row": 0, "column": 0, "column_span": 0)")), HasSubstr("column_span: is 0"));
    EXPECT_EQ(said(tileAt(R"("row": 3, "column": 1, "column_span": 2)")), "taken");
}

TEST(DocumentLimits, NestedListsAreRefusedWhereverTheyStand)
{
    std::string deep(200'000, '['), end(200'000, ']');
    EXPECT_THAT(said(R"("measurements": [{"id": "m", "quantity": "mean", "of": )" + deep + end + "}]"),
                HasSubstr("levels deep"));
    EXPECT_THAT(said(R"("captures": [{"id": "c", "file": "a", "import": {"dataset": )" + deep + end + "}}]"),
                HasSubstr("levels deep"));
    EXPECT_THAT(said(R"("sheets": [{"id": "s", "title": "S", "tiles": [{"kind": "eye", "of": "x"}]}])"),
                HasSubstr("of: is no list"));
}

TEST(DocumentLimits, LongChainsOfFormulasAreToldNotFollowedIntoTheStack)
{
    EXPECT_EQ(said(chain(100)), "taken");
    EXPECT_THAT(said(chain(101)), HasSubstr("chain of more than 100 formulas"));
    EXPECT_THAT(said(chain(4000)), HasSubstr("chain of more than 100 formulas"));
    EXPECT_THAT(said(chain(12000)), HasSubstr("channels: holds 12001, more than the 5000"));
}

TEST(DocumentLimits, AbsurdTimesLengthsAndCountsAreTold)
{
    const std::string channel = R"("channels": [{"id": "a", "capture": "c")";
    EXPECT_THAT(said(capture + channel + R"(, "delay": 1e20}])"), HasSubstr("channels[0].delay: is no moment"));
    EXPECT_THAT(said(R"("captures": [{"id": "c", "file": "a", "import": {"start": 1e308}}])"),
                HasSubstr("import.start: is no moment"));
    EXPECT_THAT(said(R"("captures": [{"id": "c", "file": "a", "import": {"sample_interval": 1e-300}}])"),
                HasSubstr("sample_interval: is no time between samples"));
    EXPECT_THAT(said(capture + channel + R"(, "scale": 1e200}])"), HasSubstr("beyond 1e100"));
    EXPECT_THAT(said("\"title\": \"" + std::string(1'000'000, 'x') + "\""), HasSubstr("title: has 1000000 bytes"));
    EXPECT_THAT(said(capture + channel + ", \"unit\": \"" + std::string(1'000'000, 'V') + "\"}]"),
                HasSubstr("unit: has 1000000 bytes"));
    std::string sheets = "\"sheets\": [";
    for (int i = 0; i < 2000; ++i)
        sheets += (i ? ", {\"id\": \"s" : "{\"id\": \"s") + std::to_string(i) + "\", \"title\": \"\"}";
    EXPECT_THAT(said(sheets + "]"), HasSubstr("sheets: holds 2000, more than the 500"));
}

TEST(DocumentLimits, ALoopsDampingIsOneThatALoopCanHave)
{
    const auto with = [](const std::string &damping) {
        return said(
            capture +
            R"("channels": [{"id": "a", "capture": "c"}], "clocks": [{"id": "k", "source": "a", "method": "pll", "bandwidth": 1e6, "damping": )" +
            damping + "}]");
    };
    for (const char *absurd : {"0", "-1", "5e-324", "1e-3", "1e4", "1e300"})
        EXPECT_THAT(with(absurd), HasSubstr("clocks[0].damping: is not within 0.01")) << absurd;
    for (const char *usual : {"0.01", "0.7071", "1", "1000"}) EXPECT_EQ(with(usual), "taken") << usual;
}

TEST(DocumentLimits, TilesWithoutAnIdGetOneAndKeepIt)
{
    Document document = parseDocument(R"({"fulvex": 1, "sheets": [
        {"id": "s", "title": "S", "tiles": [{"kind": "eye", "of": []}, {"id": "tile1", "kind": "eye", "of": []}]},
        {"id": "t", "title": "T", "tiles": [{"kind": "eye", "of": []}]}]})",
                                      "d");
    EXPECT_EQ(document.sheets[0].tiles[0].id, "tile2"); // the other name is taken
    EXPECT_EQ(document.sheets[0].tiles[1].id, "tile1");
    EXPECT_EQ(document.sheets[1].tiles[0].id, "tile3");
    EXPECT_EQ(parseDocument(documentText(document), "d"), document);
}

TEST(DocumentLimits, AnotherTimeOriginMovesEveryTimeAndNoMoment)
{
    Document document = parseDocument(R"({"fulvex": 1, "captures": [{"id": "c", "file": "a"}],
        "channels": [{"id": "a", "capture": "c"}], "regions": [{"id": "r", "start": 1005, "stop": 1006}],
        "notes": [{"id": "n", "channel": "a", "text": "x", "time": 1001}], "markers": [{"id": "m", "time": 1002}],
        "sheets": [{"id": "s", "title": "", "from": 1000, "to": 1010, "tiles": [{"kind": "traces", "of": [], "from": 1003}]}]})",
                                      "d");
    moveTimeOrigin(document, 1000);
    EXPECT_EQ(document.timeOrigin, 1000);
    EXPECT_EQ(std::pair(document.regions[0].start, document.regions[0].stop), std::pair(5.0, 6.0));
    EXPECT_EQ(document.notes[0].time, 1);
    EXPECT_EQ(document.markers[0].time, 2);
    EXPECT_EQ(document.sheets[0].from, 0);
    EXPECT_EQ(document.sheets[0].tiles[0].from, 3);
    EXPECT_EQ(parseDocument(documentText(document), "d"), document);
    const Document before = parseDocument("{\"fulvex\": 1}", "d");
    EXPECT_FALSE(sameComputation(before, [&] {
        Document other = before;
        other.timeOrigin = 1;
        return other;
    }()));
}
