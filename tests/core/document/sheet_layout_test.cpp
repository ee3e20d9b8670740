#include "document_json.h"
#include "error.h"
#include "sheet_layout.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using testing::ElementsAre;

namespace {

const auto nothingPreferred = [](EntryKind) { return std::string(); };

Document withSheet()
{
    return parseDocument(R"({"fulvex": 1,
  "captures": [{"id": "run", "file": "a.npy"}],
  "channels": [{"id": "p", "capture": "run"}, {"id": "n", "capture": "run", "column": 1}, {"id": "d", "formula": "p - n"}],
  "clocks": [{"id": "loop", "source": "d", "method": "pll"}],
  "eyes": [{"id": "open", "source": "d", "clock": "loop"}],
  "measurements": [{"id": "tie", "quantity": "time_interval_error", "clock": "loop"}],
  "sheets": [{"id": "s", "title": "Usual", "from": 0, "to": 1e-6, "tiles": [
    {"kind": "traces", "of": ["p", "n", "d"], "row": 0, "column": 0, "column_span": 2, "own_view": true, "from": 0, "to": 1e-7,
     "ranges": {"p": [0, 1]}},
    {"kind": "eye", "of": ["open"], "row": 1, "column": 0},
    {"kind": "histogram", "of": ["tie"], "row": 1, "column": 1, "sigmas": 3},
    {"kind": "words", "of": [], "row": 2, "column": 0, "words": "# Look here"}]}]})",
                         "d");
}

} // namespace

TEST(SheetLayout, ShowsInAnotherProjectWhatHasTheSameNameOrIsTheFirstOfItsKind)
{
    const Document document = withSheet();
    const SheetLayout kept =
        parseSheetLayout(sheetLayoutText(sheetLayoutOf(document, document.sheets[0], "usual")), "usual.json");
    EXPECT_EQ(kept.title, "usual");
    EXPECT_THAT(kept.kinds, ElementsAre("p channel", "n channel", "d channel", "open eye", "tie measurement"));

    const Document other = parseDocument(R"({"fulvex": 1,
      "captures": [{"id": "c", "file": "b.npy"}],
      "channels": [{"id": "data", "capture": "c"}, {"id": "d", "capture": "c", "column": 1}],
      "clocks": [{"id": "k", "source": "data"}],
      "eyes": [{"id": "first", "source": "data", "clock": "k"}, {"id": "second", "source": "d", "clock": "k"}]})",
                                         "other");
    const LaidSheet made = laidOut(other, kept, [](EntryKind kind) { return kind == EntryKind::eye ? "second" : ""; });
    ASSERT_EQ(made.sheet.tiles.size(), 3U); // there is no row for the histogram
    EXPECT_EQ(made.missing, 1);
    const TileEntry &traces = made.sheet.tiles[0];
    EXPECT_THAT(traces.of, ElementsAre("data", "d")) << "d by its name, one more by its kind, and no more there are";
    EXPECT_EQ(traces.columnSpan, 2);
    EXPECT_FALSE(traces.ownView || traces.from || !traces.ranges.empty()) << "views and scales belong to a record";
    EXPECT_THAT(made.sheet.tiles[1].of, ElementsAre("second"));
    EXPECT_EQ(made.sheet.tiles[2].words, "# Look here");
    Document with = other;
    with.sheets.push_back(made.sheet);
    with.sheets.back().id = "sheet";
    nameTiles(with);
    EXPECT_NO_THROW(validate(with));
}

TEST(SheetLayout, IsTheSameSheetInTheSameProject)
{
    const Document document = withSheet();
    const LaidSheet made = laidOut(document, sheetLayoutOf(document, document.sheets[0], "usual"), nothingPreferred);
    EXPECT_EQ(made.missing, 0);
    ASSERT_EQ(made.sheet.tiles.size(), document.sheets[0].tiles.size());
    for (std::size_t i = 0; i < made.sheet.tiles.size(); ++i)
        EXPECT_EQ(made.sheet.tiles[i].of, document.sheets[0].tiles[i].of);
}

TEST(SheetLayout, OfAnEmptyProjectOnlyWordsAreLeft)
{
    const Document document = withSheet();
    const LaidSheet made = laidOut(Document(), sheetLayoutOf(document, document.sheets[0], "usual"), nothingPreferred);
    ASSERT_EQ(made.sheet.tiles.size(), 1U);
    EXPECT_EQ(made.sheet.tiles[0].kind, "words");
    EXPECT_EQ(made.missing, 3);
}

TEST(SheetLayout, WhatIsNoneSaysWhere)
{
    for (const char *bad : {"", "{}", R"({"fulvex_sheet": 2, "title": "t"})", R"({"fulvex_rows": 1})"})
        EXPECT_THROW(parseSheetLayout(bad, "x.json"), Error) << bad;
}
