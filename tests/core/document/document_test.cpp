#include "document_json.h"
#include "error.h"
#include "temporary_folder.h"

using namespace fulvex;

namespace {

const char *const whole = R"({
  "fulvex": 1, "title": "T", "device": {"name": "d", "serial": "s", "comment": "c"},
  "captures": [{"id": "run1", "file": "a.npy", "sha256": "ab", "import": {"format": "raw", "sample_interval": 1e-9, "start": 2.0, "time_column": null,
                "separator": ";", "decimal": ",", "sample_type": "i16", "interleave": 2}}],
  "channels": [{"id": "p", "capture": "run1", "column": 0, "scale": 2.0, "offset": 1.0, "delay": 1e-12, "unit": "V", "label": "P"},
               {"id": "n", "capture": "run1", "column": "N"}, {"id": "d", "formula": "p - n * fc", "label": "D"}],
  "parameters": [{"id": "fc", "value": 2e7, "min": 1e6, "max": 1e9, "unit": "Hz"}],
  "regions": [{"id": "start_up", "start": 1e-6, "stop": 2e-6}],
  "levels": [{"id": "default", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"},
             {"id": "cmos", "kind": "absolute", "low": 0.8, "mid": 1.65, "high": 2.5, "hysteresis": 0.1}],
  "clocks": [{"id": "ideal", "source": "d", "method": "fixed", "rate": null},
             {"id": "loop", "source": "d", "method": "pll", "order": 2, "bandwidth": 5e6, "damping": 0.7071, "rate": 6.4e8, "bandwidth_of": "error"},
             {"id": "fwd", "source": "d", "method": "forwarded", "from": "p", "edges": "rising", "multiply": 2, "delay": 1e-12}],
  "eyes": [{"id": "eye1", "source": "d", "clock": "loop", "region": null}],
  "masks": [{"id": "mask1", "eye": "eye1", "mask": "ieee-802.3-1000base-x", "margin": 0.1}],
  "measurements": [{"id": "tr", "quantity": "rise_time", "source": "d", "region": "start_up", "levels": "cmos", "limit": {"min": null, "max": 2e-10}},
                   {"id": "sk", "quantity": "delay", "source": "p", "to": "n", "edge": "rising", "to_edge": "falling"},
                   {"id": "tj", "quantity": "total_jitter", "source": "d", "clock": "loop", "ber": 1e-12},
                   {"id": "ij", "quantity": "integrated_jitter", "clock": "loop", "from": 1e4, "to": 1e6, "lines": true},
                   {"id": "eh", "quantity": "eye_height", "eye": "eye1"}],
  "notes": [{"id": "note1", "channel": "d", "time": 1e-6, "level": 0.1, "text": "here", "right": 20, "down": -40, "width": 120}],
  "markers": [{"id": "a1", "time": 1e-6}, {"id": "b1", "channel": "p", "time": 2e-6}, {"id": "c1", "channel": "n", "level": 0.2}],
  "sheets": [{"id": "s1", "title": "S", "tiles": [
      {"kind": "traces", "of": ["p"], "row": 0, "column": 0, "lanes": true, "heights": [1, 2.5], "ranges": {"p": [-0.5, 0.5]}},
      {"kind": "traces", "of": ["n"], "row": 1, "column": 0, "own_view": true, "from": 1e-6, "to": 2e-6, "straight": true}]}]
})";

std::string errorOf(const std::string &json)
{
    try {
        parseDocument(json, "x.fulvex");
    } catch (const Error &error) {
        return error.what();
    }
    return "no error";
}

std::string with(const std::string &entries)
{
    return R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.npy"}], "channels": [{"id": "a", "capture": "r", "column": 0}], )" +
           entries + "}";
}

} // namespace

TEST(Document, RoundTripKeepsEverything)
{
    const Document document = parseDocument(whole, "x.fulvex");
    EXPECT_EQ(document.clocks[1].rate, 6.4e8);
    EXPECT_EQ(document.clocks[1].bandwidthOf, "error");
    EXPECT_EQ(document.measurements[3].toFrequency, 1e6);
    ASSERT_TRUE(document.captures[0].import.timeColumn.has_value()); // stated: there is none
    EXPECT_FALSE(document.captures[0].import.timeColumn->has_value());
    const std::string text = documentText(document);
    EXPECT_EQ(parseDocument(text, "y"), document);
    EXPECT_EQ(documentText(parseDocument(text, "y")), text);
    EXPECT_THAT(text, testing::HasSubstr("\"interleave\": 2")); // what this version does not read is kept
    EXPECT_THAT(text, testing::HasSubstr("\"lines\": true"));
    EXPECT_EQ(document.sheets[0].tiles[0].ranges.at("p"), std::pair(-0.5, 0.5));
    EXPECT_EQ(document.sheets[0].tiles[1].to, 2e-6);
    EXPECT_FALSE(document.markers[2].time);
}

TEST(Document, WhatPointsAndShowsChangesNoNumber)
{
    const Document document = parseDocument(whole, "x.fulvex");
    Document other = document;
    other.title = "another";
    other.notes[0].text = "there";
    other.markers.clear();
    other.sheets[0].tiles[0].heights = {3};
    other.channels[0].label = "leg";
    EXPECT_TRUE(sameComputation(document, other));
    other.channels[0].delay += 1e-9;
    EXPECT_FALSE(sameComputation(document, other));
    other = document;
    other.regions[0].stop = 3e-6;
    EXPECT_FALSE(sameComputation(document, other));
}

TEST(Document, ErrorsInSheetsNameThePathToo)
{
    EXPECT_EQ(errorOf(with(R"("notes": [{"id": "n1", "channel": "zz", "text": "x"}])")),
              "x.fulvex: notes[0].channel: no channel has the id \"zz\"; use \"a\", or add it to \"channels\"");
    EXPECT_EQ(errorOf(with(R"("markers": [{"id": "m1", "channel": "a"}])")),
              "x.fulvex: markers[0]: stands nowhere; give \"time\" in s, or \"level\" with a "
              "\"channel\" or with a \"row\"");
    EXPECT_EQ(errorOf(with(R"("markers": [{"id": "m1", "level": 2}])")),
              "x.fulvex: markers[0]: stands nowhere; give \"time\" in s, or \"level\" with a "
              "\"channel\" or with a \"row\"");
    const auto tile = [](const std::string &members) {
        return errorOf(with(R"("sheets": [{"id": "s", "title": "S", "tiles": [{"kind": "traces", "of": ["a"], )" +
                            members + "}]}]"));
    };
    EXPECT_EQ(tile(R"("heights": [1, 0])"),
              "x.fulvex: sheets[0].tiles[0].heights: must be greater than 0; give it in (relative)");
    EXPECT_EQ(tile(R"("heights": "high")"),
              "x.fulvex: sheets[0].tiles[0].heights: is no list of numbers; write [1, 1, …]");
    EXPECT_EQ(tile(R"("ranges": {"a": [1]})"),
              "x.fulvex: sheets[0].tiles[0].ranges.a: is no list of 2 numbers; write [low, high]");
    EXPECT_EQ(tile(R"("ranges": {"a": [2, 1]})"),
              "x.fulvex: sheets[0].tiles[0].ranges.a: does not rise; give [low, high]");
    EXPECT_EQ(tile(R"("ranges": [1, 2])"),
              "x.fulvex: sheets[0].tiles[0].ranges: is no object; write {\"channel\": [low, high]}");
}

TEST(Document, ErrorsNameThePathAndTheRemedy)
{
    EXPECT_EQ(errorOf("{\n\"fulvex\": 1,\n]"),
              "x.fulvex: line 3: is not valid JSON; mend it there; the last thing read is before byte 16");
    EXPECT_EQ(errorOf("{}"), "x.fulvex: fulvex: is missing; this version reads documents with \"fulvex\": 1");
    EXPECT_EQ(errorOf(R"({"fulvex": 0})"), "x.fulvex: fulvex: is 0; this version reads documents with \"fulvex\": 1");
    EXPECT_EQ(errorOf(R"({"fulvex": 2})"), "x.fulvex: fulvex: is 2, of a newer version of Fulvex; open it with that "
                                           "one; it is left as it is (this version "
                                           "reads documents with \"fulvex\": 1)");
    EXPECT_EQ(errorOf("[]"), "x.fulvex: is array where an object belongs; write {…}");
    EXPECT_EQ(errorOf(with(R"("chanels": [])")),
              "x.fulvex: chanels: is not a key that belongs here; did you mean \"channels\"?");
    EXPECT_EQ(errorOf(with(R"("measurements": [{"id": "m", "quantity": "rise_time", "sorce": "a"}])")),
              "x.fulvex: measurements[0].sorce: is not a key that belongs here; did you mean \"source\"?");
    EXPECT_EQ(
        errorOf(with(R"("measurements": [{"id": "m", "quantity": "rise_time", "source": "a", "levels": "cmos33"}])")),
        "x.fulvex: measurements[0].levels: no levels has the id \"cmos33\"; use \"default\", or add it to \"levels\"");
    EXPECT_EQ(errorOf(with(R"("clocks": [{"id": "c", "source": "zz"}])")),
              "x.fulvex: clocks[0].source: no channel has the id \"zz\"; use \"a\", or add it to \"channels\"");
    EXPECT_EQ(errorOf(with(R"("clocks": [{"id": "c", "source": "a", "method": "magic"}])")),
              "x.fulvex: clocks[0].method: \"magic\" is not known; use fixed, pll, forwarded");
    EXPECT_EQ(errorOf(with(R"("clocks": [{"id": "c", "source": "a", "method": "pll", "bandwidth": -5}])")),
              "x.fulvex: clocks[0].bandwidth: must be greater than 0; give it in Hz");
    EXPECT_EQ(errorOf(with(R"("clocks": [{"id": "c", "source": "a", "rate": "fast"}])")),
              "x.fulvex: clocks[0].rate: is string where a number belongs; write a plain SI number");
    EXPECT_EQ(errorOf(with(R"("regions": [{"id": "Bad", "start": 0, "stop": 1}])")),
              "x.fulvex: regions[0].id: \"Bad\" is no id; use small letters, digits and _, starting with a letter");
    EXPECT_EQ(errorOf(with(R"("regions": [{"id": "a", "start": 0, "stop": 1}])")),
              "x.fulvex: regions[0].id: \"a\" is taken by channels[0]; give each entry an id of its own");
    EXPECT_EQ(errorOf(with(R"("regions": [{"id": "q", "start": 1, "stop": 1}])")),
              "x.fulvex: regions[0]: does not stop after its start; give start < stop, in s");
    const auto limit = [](const char *offsets) {
        return errorOf(
            with(R"("phase_noise": [{"id": "n", "source": "a", "limit": {"levels": [-90, -120], "offsets": )" +
                 std::string(offsets) + "}}]"));
    };
    EXPECT_EQ(limit("[1e4, 1e6]"), "no error");
    for (const char *offsets : {"[1e6, 1e4]", "[1e4, 1e4]", "[0, 1e4]"})
        EXPECT_THAT(limit(offsets), testing::HasSubstr("do not rise")) << offsets;
    EXPECT_THAT(errorOf(with(R"("eyes": {})")), testing::HasSubstr("eyes: is object where a list belongs"));
}

TEST(Document, FormulaCyclesAreNamed)
{
    const std::string head =
        R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.npy"}], "channels": [{"id": "a", "capture": "r"}, )";
    EXPECT_EQ(errorOf(head + R"({"id": "b", "formula": "a + c"}, {"id": "c", "formula": "b * 2"}]})"),
              "x.fulvex: channels[1].formula: goes in a circle: b → c → b; let one of these channels not depend on the "
              "others");
    EXPECT_EQ(
        errorOf(head + R"({"id": "b", "formula": "b"}]})"),
        "x.fulvex: channels[1].formula: goes in a circle: b → b; let one of these channels not depend on the others");
    EXPECT_EQ(errorOf(head + R"({"id": "b", "formula": "a + z"}]})"),
              "x.fulvex: channels[1].formula: no channel, parameter or region has the id \"z\"; add it, or correct the "
              "formula");
    EXPECT_THAT(errorOf(head + R"({"id": "b", "formula": "a +"}]})"),
                testing::HasSubstr("channels[1].formula: character 4"));
}

TEST(Document, FreeIdsAreWellFormedAndFree)
{
    const Document document = parseDocument(whole, "x");
    EXPECT_EQ(freeId(document, "Camera Link (P)"), "camera_link_p");
    EXPECT_EQ(freeId(document, "loop"), "loop2");
    EXPECT_EQ(freeId(document, "42"), "x42");
    EXPECT_EQ(freeId(document, ""), "x");
}

TEST(Document, SavesAndLoads)
{
    const test::TemporaryFolder folder;
    const Document document = parseDocument(whole, "x");
    saveDocument(document, folder / "a.fulvex");
    EXPECT_EQ(loadDocument(folder / "a.fulvex"), document);
    EXPECT_THROW(loadDocument(folder / "none.fulvex"), Error);
}
