#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "fingerprint.h"
#include "moved_captures.h"
#include "project_file.h"
#include "temporary_folder.h"
#include "zip_archive.h"

#include <cstdlib>
#include <gmock/gmock.h>

using namespace fulvex;
using test::TemporaryFolder;
namespace fs = std::filesystem;

namespace {

const std::string table = "time,p,n\n0,1,-1\n1e-9,2,-2\n2e-9,3,-3\n";

struct ProjectFile : testing::Test {
    ProjectFile() { setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1); }
    /// A project of one text capture and one recording of two files.
    Document twoCaptures() const
    {
        folder.write("link.csv", table);
        folder.write("tide.sigmf-meta", R"({"global": {"core:datatype": "ri8", "core:sample_rate": 1e6}})");
        folder.write("tide.sigmf-data", std::string("\x01\x02\x00\x04", 4));
        Document document;
        document.title = "two";
        document.captures = {{"link", "link.csv", "", {}}, {"tide", "tide.sigmf-meta", "", {}}};
        document.channels.resize(2);
        document.channels[0].id = "p";
        document.channels[0].capture = "link";
        document.channels[1].id = "level";
        document.channels[1].capture = "tide";
        return document;
    }
    std::string message(const std::function<void()> &act) const
    {
        try {
            act();
        } catch (const Error &error) {
            return error.what();
        }
        return "no error";
    }
    std::string zipOf(const std::string &name, const std::vector<std::pair<std::string, std::string>> &entries) const
    {
        int failure = 0;
        zip_t *zip = zip_open((folder / name).c_str(), ZIP_CREATE | ZIP_TRUNCATE, &failure);
        for (const auto &[entry, bytes] : entries)
            zip_file_add(zip, entry.c_str(), zip_source_buffer(zip, bytes.data(), bytes.size(), 0), 0);
        EXPECT_EQ(zip_close(zip), 0);
        return folder / name;
    }
    TemporaryFolder folder;
    Progress progress;
};

} // namespace

TEST_F(ProjectFile, PackedAndMovedElsewhereItHasTheSameCapturesByteForByte)
{
    const Document document = twoCaptures();
    const fs::path packed = folder / "two.fulvexpack";
    packProject(document, folder.path(), packed, progress);
    for (const char *gone : {"link.csv", "tide.sigmf-meta", "tide.sigmf-data"}) fs::remove(folder / gone);
    EXPECT_TRUE(isPackedProject(packed));
    const OpenedProject opened = openProject(packed, progress);
    EXPECT_TRUE(opened.packed);
    EXPECT_EQ(opened.document.title, "two");
    EXPECT_EQ(opened.document.captures[0].file, "captures/link/link.csv");
    EXPECT_EQ(test::readAll(opened.base / opened.document.captures[0].file), table);
    const Capture tide = readCapture(opened.base / opened.document.captures[1].file, {}, progress);
    EXPECT_EQ(tide.columns[0].count, 4);
    EXPECT_EQ(openProject(packed, progress).base, opened.base); // unpacked once
}

TEST_F(ProjectFile, PackedAgainOverItselfItIsAnotherFile)
{
    const fs::path packed = folder / "two.fulvexpack";
    packProject(twoCaptures(), folder.path(), packed, progress);
    const OpenedProject first = openProject(packed, progress);
    Document changed = first.document;
    changed.title = "two, changed, and of another length";
    packProject(changed, first.base, packed, progress);
    EXPECT_NE(projectStamp(packed), first.stamp);
    const OpenedProject second = openProject(packed, progress);
    EXPECT_EQ(second.document.title, changed.title);
    EXPECT_EQ(test::readAll(second.base / second.document.captures[0].file), table);
}

TEST_F(ProjectFile, ADocumentBesideItsCapturesIsOpenedWhereItLies)
{
    saveDocument(twoCaptures(), folder / "two.fulvex");
    const OpenedProject opened = openProject(folder / "two.fulvex", progress);
    EXPECT_FALSE(opened.packed);
    EXPECT_EQ(opened.base, folder.path());
    EXPECT_EQ(opened.stamp, projectStamp(folder / "two.fulvex"));
    EXPECT_EQ(projectStamp(folder / "nowhere.fulvex"), "");
}

TEST_F(ProjectFile, HostileArchivesAreRefusedAndLeaveNothing)
{
    const std::string escaping = zipOf("a.fulvexpack", {{"project.fulvex", "{}"}, {"../../escaped", "x"}});
    EXPECT_EQ(message([&] { openProject(escaping, progress); }),
              escaping + ": \"../../escaped\": leads out of the project; it was not packed by this program");
    const std::string absolute = zipOf("b.fulvexpack", {{"/tmp/escaped", "x"}});
    EXPECT_THAT(message([&] { openProject(absolute, progress); }), testing::HasSubstr("leads out of the project"));
    const std::string arrays = zipOf("c.npz", {{"a.npy", "x"}});
    EXPECT_THAT(message([&] { openProject(arrays, progress); }), testing::HasSubstr("holds no \"project.fulvex\""));
    const std::string wrong = zipOf("d.fulvexpack", {{"project.fulvex", "{\"fulvex\": 1, \"captures\": 3}"}});
    EXPECT_THAT(message([&] { openProject(wrong, progress); }), testing::HasSubstr("d.fulvexpack"));
    std::string whole = test::readAll(wrong);
    const std::string torn = folder.write("e.fulvexpack", whole.substr(0, whole.size() / 2));
    EXPECT_THAT(message([&] { openProject(torn, progress); }), testing::HasSubstr("is not a whole ZIP archive"));
    EXPECT_FALSE(fs::exists(folder.path().parent_path() / "escaped"));
    for (const auto &left : fs::directory_iterator(folder.path() / "cache/fulvex/unpacked"))
        EXPECT_NE(left.path().extension(), ".part") << left.path();
}

TEST_F(ProjectFile, SavingNeedsNoCacheFolder)
{
    const Document document = twoCaptures();
    setenv("XDG_CACHE_HOME", folder.write("file", "").c_str(), 1); // a file is in its place
    fs::create_directories(folder.path() / "deep");
    saveProject(document, folder.path(), folder.path() / "two.fulvex", progress);
    EXPECT_EQ(loadDocument(folder / "two.fulvex").captures[0].file, "link.csv");
    saveProject(document, folder.path(), folder.path() / "deep/two.fulvex", progress);
    EXPECT_EQ(loadDocument(folder.path() / "deep/two.fulvex").captures[0].file, folder / "link.csv"); // not below it
    packProject(document, folder.path(), folder.path() / "two.fulvexpack", progress);
    EXPECT_THAT(message([&] { openProject(folder / "two.fulvexpack", progress); }),
                testing::HasSubstr("set XDG_CACHE_HOME to a folder"));
}

TEST_F(ProjectFile, SavedAsAPlainOneItTakesItsCapturesOutOfTheCache)
{
    const fs::path packed = folder / "two.fulvexpack";
    packProject(twoCaptures(), folder.path(), packed, progress);
    const OpenedProject opened = openProject(packed, progress);
    const TemporaryFolder elsewhere;
    saveProject(opened.document, opened.base, elsewhere.path() / "plain.fulvex", progress);
    fs::remove_all(folder.path() / "cache");
    const Document plain = loadDocument(elsewhere / "plain.fulvex");
    EXPECT_EQ(plain.captures[0].file, "plain-captures/link/link.csv");
    EXPECT_EQ(test::readAll(elsewhere.path() / plain.captures[0].file), table);
    EXPECT_EQ(readCapture(elsewhere.path() / plain.captures[1].file, {}, progress).columns[0].count,
              4); // both its files
}

TEST_F(ProjectFile, PackingWhatIsNotThereWritesNothing)
{
    const Document document = twoCaptures();
    fs::remove(folder / "tide.sigmf-data");
    const std::string packed = folder.write("two.fulvexpack", "as it was");
    EXPECT_THAT(message([&] { packProject(document, folder.path(), packed, progress); }),
                testing::HasSubstr("tide.sigmf-data: is not there, so capture \"tide\" cannot be packed"));
    EXPECT_EQ(test::readAll(packed), "as it was");
    progress.cancel();
    folder.write("tide.sigmf-data", "1234");
    EXPECT_THROW(packProject(document, folder.path(), packed, progress), Cancelled);
    EXPECT_EQ(test::readAll(packed), "as it was");
}

TEST_F(ProjectFile, CapturesThatWereMovedOrRenamedAreFoundByTheirContents)
{
    Document document = twoCaptures();
    for (CaptureEntry &capture : document.captures)
        capture.sha256 = sha256OfFiles(openCaptureFiles(folder.path() / capture.file), progress);
    EXPECT_TRUE(missingCaptures(document, folder.path(), progress).empty());
    fs::create_directories(folder.path() / "old/deep");
    fs::rename(folder / "link.csv", folder.path() / "old/deep/renamed.csv");
    folder.write("old/link.csv", "another file of that name");
    for (const char *ending : {"tide.sigmf-meta", "tide.sigmf-data"})
        fs::rename(folder / ending, folder.path() / "old" / ending);
    const auto missing = missingCaptures(document, folder.path(), progress);
    ASSERT_EQ(missing.size(), 2u);
    EXPECT_EQ(missing[0].found, folder.path() / "old/deep/renamed.csv");
    EXPECT_TRUE(missing[0].same);
    EXPECT_EQ(missing[1].found, folder.path() / "old/tide.sigmf-meta");
    EXPECT_TRUE(missing[1].same);
    EXPECT_EQ(keptPath(missing[0].found, folder.path()), "old/deep/renamed.csv");
    EXPECT_EQ(keptPath("/elsewhere/a.csv", folder.path()), "/elsewhere/a.csv");
}

TEST_F(ProjectFile, AFileOfThatNameWithOtherContentsIsNotCalledTheSame)
{
    Document document = twoCaptures();
    document.captures[0].sha256 = std::string(64, '0');
    fs::create_directories(folder.path() / "old");
    fs::rename(folder / "link.csv", folder.path() / "old/link.csv");
    fs::remove(folder / "tide.sigmf-meta");
    const auto missing = missingCaptures(document, folder.path(), progress);
    ASSERT_EQ(missing.size(), 2u);
    EXPECT_EQ(missing[0].found, folder.path() / "old/link.csv");
    EXPECT_FALSE(missing[0].same);
    EXPECT_EQ(missing[1].found, "");
}

/// A project that is laid beside another, worked down by a plan with a picture, packed, moved and opened: all of it is
/// there, and saved as a plain project it lies where nobody cleans up.
TEST_F(ProjectFile, PlansOtherResultsAndWhatFilledSlotsGoWithIt)
{
    fs::create_directories(folder / "other");
    fs::create_directories(folder / "acceptance/pictures");
    folder.write("other/before.csv", table);
    Document before;
    before.captures = {{"link", "before.csv", "", {}}};
    before.comparisons = {{"further", "nowhere.json"}}; // it stays
    folder.write("other/before.fulvex", documentText(before));
    folder.write("numbers.json", R"({"fulvex_results": 1})");
    folder.write("acceptance/pictures/bench.png", "a picture");
    folder.write("acceptance/harbour.fulvexplan", R"({"fulvex_plan": 1, "steps": [{"picture": "pictures/bench.png"},
        {"picture": "../secret"}], "setups": [{"document": {"masks": [{"mask": "pictures/none.json"}]}}]})");
    Document document = twoCaptures();
    document.comparisons = {{"beside", "other/before.fulvex"}, {"numbers", "numbers.json"}};
    document.plans = {{"harbour", "acceptance/harbour.fulvexplan", {}, {}}};
    document.attempts = {
        {"once", "harbour", "step", "", {"cold=link.csv", "warm=tide.sigmf-meta", "gone=gone.csv"}, {}, {}}};
    const fs::path packed = folder / "elsewhere.fulvexpack";
    packProject(document, folder.path(), packed, progress);
    for (const char *gone : {"other", "acceptance", "numbers.json", "link.csv", "tide.sigmf-meta", "tide.sigmf-data"})
        fs::remove_all(folder / gone);

    const OpenedProject opened = openProject(packed, progress);
    const auto holds = [](const fs::path &base, const Document &its) {
        EXPECT_EQ(test::readAll(base / fs::path(its.plans[0].file).parent_path() / "pictures/bench.png"), "a picture");
        EXPECT_EQ(test::readAll(base / AttemptEntry::parted(its.attempts[0].captures[0]).second), table);
        EXPECT_EQ(test::readAll(base / its.comparisons[1].file), R"({"fulvex_results": 1})");
        EXPECT_EQ(its.attempts[0].captures[2], "gone=gone.csv"); // what was found then is kept in words
        Progress none;
        const OpenedProject other = openProject(base / its.comparisons[0].file, none);
        EXPECT_TRUE(other.packed);
        EXPECT_TRUE(other.document.comparisons.empty());
        EXPECT_EQ(test::readAll(other.base / other.document.captures[0].file), table);
        const auto [slot, tide] = AttemptEntry::parted(its.attempts[0].captures[1]);
        EXPECT_EQ(slot, "warm");
        EXPECT_EQ(readCapture(base / tide, {}, none).columns[0].count, 4);
    };
    holds(opened.base, opened.document);
    const fs::path plain = folder / "plain.fulvex";
    saveProject(opened.document, opened.base, plain, progress);
    fs::remove_all(folder / "cache");
    const OpenedProject again = openProject(plain, progress);
    holds(again.base, again.document);

    document.comparisons.pop_back();
    document.plans.clear();
    document.attempts.clear();
    EXPECT_THAT(message([&] { packProject(document, folder.path(), packed, progress); }),
                testing::HasSubstr("link.csv: is not there"));
    document.captures.clear();
    document.channels.clear();
    EXPECT_THAT(message([&] { packProject(document, folder.path(), packed, progress); }),
                testing::HasSubstr("so comparison \"beside\" cannot be packed; put it back"));
    for (
        const char *list :
        {R"("comparisons": [{"id": "a", "file": "../secret.json"}])",
         R"("plans": [{"id": "a", "file": "/etc/passwd"}])",
         R"("plans": [{"id": "a", "file": "p"}], "attempts": [{"id": "b", "plan": "a", "step": "s", "captures": ["c=../x"]}])"}) {
        const std::string evil =
            zipOf("evil.fulvexpack", {{"project.fulvex", "{\"fulvex\": 1, " + std::string(list) + "}"}});
        EXPECT_THROW(openProject(evil, progress), NeedsConsent) << list;
    }
}
