// The workbench without a window: undo, refusal, evaluation in the background, evidence.

#include "desktop_support.h"
#include "evidence_model.h"
#include "references.h"
#include "temporary_folder.h"
#include "tile_edits.h"
#include "workbench.h"

#include <QSignalSpy>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

const QString demo = QString(FULVEX_DEMO) + "/tests-brackwater.fulvex";

} // namespace

TEST(Workbench, AnInvalidEditIsRefusedAndSaid)
{
    Workbench bench;
    QSignalSpy failed(&bench, &Workbench::failed);
    EXPECT_FALSE(bench.change("bad", [](Document &document) { document.clocks.push_back({}); }));
    ASSERT_EQ(failed.count(), 1);
    EXPECT_TRUE(bench.document().clocks.empty());
    EXPECT_EQ(bench.undoStack().count(), 0);
}

TEST(Workbench, StepsWithOneKeyMergeAndOthersDoNot)
{
    Workbench bench;
    for (int i = 1; i <= 5; ++i)
        bench.change(
            "drag", [i](Document &document) { document.title = std::to_string(i); }, "title");
    bench.change("other", [](Document &document) { document.device.name = "x"; });
    EXPECT_EQ(bench.undoStack().count(), 2);
    bench.undoStack().undo();
    bench.undoStack().undo();
    EXPECT_EQ(bench.document(), Document());
    bench.undoStack().redo();
    EXPECT_EQ(bench.document().title, "5");
}

TEST(Workbench, AnEditThatChangesNothingIsNoStep)
{
    Workbench bench;
    EXPECT_TRUE(bench.change("nothing", [](Document &) {}));
    EXPECT_EQ(bench.undoStack().count(), 0);
}

TEST(Workbench, TracesComeBeforeTheNumbers)
{
    Workbench bench;
    std::vector<std::pair<std::shared_ptr<const Results>, bool>> told;
    QObject::connect(
        &bench.evaluator(), &Evaluator::finished,
        [&](std::shared_ptr<const Results> results, auto, bool whole) { told.emplace_back(results, whole); });
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete(); }));
    ASSERT_GE(told.size(), 2u);
    const auto traced = std::find_if(told.begin(), told.end(), [&](const auto &one) {
        const auto &channels = one.first->channels;
        return channels.size() == bench.document().channels.size() &&
               std::all_of(channels.begin(), channels.end(), [](const auto &c) { return c.source && c.pyramid; });
    });
    ASSERT_NE(traced, told.end());
    EXPECT_FALSE(traced->second);
    EXPECT_LT(traced->first->rows.size(), bench.document().measurements.size());
    for (std::size_t i = 0; i + 1 < told.size(); ++i) EXPECT_FALSE(told[i].second);
    EXPECT_TRUE(told.back().second);
    EXPECT_EQ(told.back().first->rows.size(), bench.document().measurements.size());
}

TEST(Workbench, TheNewestRequestWinsAndCancelKeepsWhatIsShown)
{
    Workbench bench;
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete() && !bench.evaluator().busy(); }));
    auto shown = bench.sharedResults(); // held, so that no other can lie at its place
    for (int i = 1; i <= 20; ++i)
        bench.change(
            "drag", [i](Document &document) { findEntry(document.clocks, "loop")->bandwidth = 1e6 + 1e4 * i; },
            "bandwidth");
    ASSERT_TRUE(test::waitFor([&] { return bench.results()->document->clocks[1].bandwidth == 1.2e6; }));
    EXPECT_NE(bench.sharedResults(), shown);
    ASSERT_TRUE(test::waitFor([&] { return !bench.evaluator().busy(); }));
    bench.change("other", [](Document &document) { findEntry(document.clocks, "loop")->bandwidth = 3e6; });
    bench.evaluator().cancel();
    ASSERT_TRUE(test::waitFor([&] { return !bench.evaluator().busy(); }));
    QTest::qWait(50); // a first answer may have been on its way
    shown = bench.sharedResults();
    ASSERT_NE(shown, nullptr);
    EXPECT_EQ(shown->rows.size(), bench.document().measurements.size()); // older ones where there are none yet
    QTest::qWait(100);
    EXPECT_EQ(bench.sharedResults(), shown);
    EXPECT_FALSE(bench.upToDate());
    bench.evaluate(); // and it can be gone on with
    ASSERT_TRUE(test::waitFor([&] { return bench.upToDate(); }));
    EXPECT_EQ(bench.results()->document->clocks[1].bandwidth, 3e6);
}

TEST(Workbench, TheViewStaysWithinTheRecord)
{
    Workbench bench;
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete(); }));
    bench.setView(-1, 1);
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 125e-6, 1e-9);
    bench.setView(124e-6, 130e-6);
    EXPECT_LE(bench.viewTo(), 125.0001e-6);
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 6e-6, 1e-12);
    bench.setView(50e-6, 50e-6 + 1e-15);
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 4 * 125e-12, 1e-15);
    bench.setView(5, 4); // nonsense changes nothing
    EXPECT_NEAR(bench.viewTo() - bench.viewFrom(), 4 * 125e-12, 1e-15);
}

TEST(Workbench, AMissingFileLeavesTheProjectOpenAndSaysSo)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("p.fulvex", R"({"fulvex": 1, "captures": [{"id": "r", "file": "gone.npy"}],
        "channels": [{"id": "a", "capture": "r"}], "measurements": [{"id": "m", "quantity": "rms", "source": "a"}]})");
    Workbench bench;
    bench.openProject(QString::fromStdString(path));
    ASSERT_TRUE(test::waitFor([&] { return bench.complete(); }));
    EXPECT_THAT(bench.results()->firstError(), testing::HasSubstr("gone.npy: is not there"));
    EXPECT_THAT(bench.results()->rows[0].reason, testing::HasSubstr("gone.npy: is not there"));
    EXPECT_EQ(bench.document().captures.size(), 1u);
}

TEST(Workbench, AChangedCaptureIsAWarningNeverSilent)
{
    const test::TemporaryFolder folder;
    folder.write("a.csv", "t,v\n0,1\n1,2\n2,1\n");
    folder.write(
        "p.fulvex",
        R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.csv", "sha256": "00"}], "channels": [{"id": "a", "capture": "r"}]})");
    Workbench bench;
    bench.openProject(QString::fromStdString(folder / "p.fulvex"));
    ASSERT_TRUE(test::waitFor([&] { return bench.complete(); }));
    const auto &findings = bench.results()->captures[0].findings;
    ASSERT_FALSE(findings.empty());
    EXPECT_EQ(findings[0].check, "fingerprint");
    EXPECT_EQ(findings[0].level, "warning");
}

TEST(Evidence, OfAMeasurementIsFarthestFirstAndOfAMaskDeepestFirst)
{
    Workbench bench;
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete(); }));
    Progress progress;
    const auto evidenceOf = [&](const char *id) { return evidenceList(*bench.results(), {.id = id}, progress); };
    const EvidenceList rise = evidenceOf("tr");
    ASSERT_EQ(rise.items.size(), EvidenceList::kept);
    const Row &row = *findEntry(bench.results()->rows, "tr");
    const double worst =
        std::max(*row.statistics.max - *row.statistics.mean, *row.statistics.mean - *row.statistics.min);
    EXPECT_NEAR(std::abs(rise.items[0].place.to - rise.items[0].place.from - *row.statistics.mean), worst, 1e-15);
    EXPECT_EQ(rise.items[0].place.channel, "link");
    const EvidenceList smeared = evidenceOf("mask_smeared");
    const MaskResult &smearedBy = *findEntry(bench.results()->masks, "mask_smeared")->result;
    double deepest = 0;
    for (const MaskFailure &failure : smearedBy.failures) deepest = std::max(deepest, failure.deepest);
    EXPECT_GE(smearedBy.worst[0].deepest, deepest); // of all, not only of the first
    deepest = smearedBy.worst[0].deepest;
    EXPECT_EQ(smeared.items.size(), EvidenceList::kept);
    EXPECT_EQ(smeared.items[0].cells[4], QString::number(deepest, 'f', 2) + " of area");
    EXPECT_FALSE(evidenceOf("mask2").empty.isEmpty());
    EXPECT_TRUE(evidenceOf("rate").items.empty());
    EXPECT_FALSE(evidenceOf("").empty.isEmpty());
}

TEST(DocumentEdits, RemovingACaptureTakesAllThatHangsOnIt)
{
    Workbench bench;
    bench.openProject(demo);
    Document document = bench.document();
    for (const char *other : {"latch", "amp", "bus", "ref"}) removeWithDependents(document, other);
    removeWithDependents(document, "before");
    EXPECT_NO_THROW(validate(document));
    EXPECT_EQ(document.channels.size(), 3u);
    EXPECT_EQ(document.clocks.size(), 1u);
    EXPECT_EQ(document.masks.size(), 1u);
    EXPECT_TRUE(document.notes.empty());
    for (const SheetEntry &sheet : document.sheets)
        for (const TileEntry &tile : sheet.tiles)
            for (const std::string &id : tile.of) EXPECT_THAT(id, testing::EndsWith("2"));
}

TEST(DocumentEdits, TilesFindTheirPlace)
{
    Document document;
    for (const char *kind : {"traces", "eye", "histogram", "eye"}) {
        TileEntry tile;
        tile.kind = kind;
        addTile(document, 0, tile);
    }
    const auto &tiles = document.sheets[0].tiles;
    EXPECT_EQ(tiles[0].columnSpan, 2);
    EXPECT_EQ(std::pair(tiles[1].row, tiles[1].column), std::pair(1, 0));
    EXPECT_EQ(std::pair(tiles[2].row, tiles[2].column), std::pair(1, 1));
    EXPECT_EQ(std::pair(tiles[3].row, tiles[3].column), std::pair(2, 0));
}

TEST(Workbench, WordsNotesAndMarkersKeepTheNumbers)
{
    Workbench bench;
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete() && !bench.evaluator().busy(); }));
    const auto before = bench.sharedResults();
    QSignalSpy evaluated(&bench.evaluator(), &Evaluator::finished);
    bench.putMarker(0, {"", "p", "", 1e-6, {}});
    bench.change("title", [](Document &document) { document.title = "another"; });
    EXPECT_EQ(bench.results()->document->title, "another"); // what a report would say
    EXPECT_EQ(bench.results()->rows[0].measured, before->rows[0].measured);
    EXPECT_FALSE(bench.evaluator().busy());
    bench.change("delay", [](Document &document) { document.channels[0].delay += 1e-12; });
    ASSERT_TRUE(test::waitFor([&] { return evaluated.count() > 0 && !bench.evaluator().busy(); }));
    EXPECT_FALSE(bench.results()->rows[0].measured->population.value == before->rows[0].measured->population.value);
    bench.undoStack().clear();
}

TEST(Workbench, ASecondProjectHasItsFirstLookToo)
{
    const test::TemporaryFolder folder;
    folder.write("a.csv", "time,a\n0,1\n1e-9,2\n2e-9,1\n3e-9,2\n");
    folder.write("small.fulvex", R"({"fulvex": 1, "captures": [{"id": "r", "file": "a.csv"}],
        "channels": [{"id": "a", "capture": "r", "column": 0}]})");
    Workbench bench;
    bench.openProject(demo);
    ASSERT_TRUE(test::waitFor([&] { return bench.complete() && !bench.evaluator().busy(); }));
    std::vector<bool> complete;
    QObject::connect(&bench.evaluator(), &Evaluator::finished,
                     [&](auto, auto, bool whole) { complete.push_back(whole); });
    bench.openProject(QString::fromStdString(folder / "small.fulvex"));
    ASSERT_TRUE(test::waitFor([&] { return bench.complete() && !bench.evaluator().busy(); }));
    EXPECT_EQ(complete, (std::vector<bool>{false, true}));
}
