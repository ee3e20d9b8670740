// Which files a run is of, and what becomes of them when a project is saved or packed.

#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "project_file.h"
#include "run_members.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace fulvex {
namespace {

using Names = std::vector<std::string>;
namespace fs = std::filesystem;

Document documentWith(const std::string &captures)
{
    return parseDocument(R"({"fulvex": 1, "captures": [)" + captures + "]}", "test");
}

Names namesOf(const std::vector<RunMember> &members)
{
    Names names;
    for (const RunMember &member : members) names.push_back(member.name);
    return names;
}

class RunMembers : public testing::Test {
protected:
    RunMembers()
    {
        fs::create_directory(folder / "night");
        for (const char *name : {"night/c10.csv", "night/c9.csv", "night/c2.csv", "night/.hidden.csv",
                                 "night/c3.csv.part", "night/c4.csv~", "alone.csv"})
            folder.write(name, "v\n1\n2\n");
    }
    Names named(const Names &list) const { return namedFiles(list, folder.path()); }
    test::TemporaryFolder folder;
};

TEST_F(RunMembers, FoldersAndPatternsNameFilesByTheirNumbers)
{
    const Names three{"night/c2.csv", "night/c9.csv", "night/c10.csv"};
    EXPECT_EQ(named({"night"}), three);
    EXPECT_EQ(named({"night/*.csv"}), three);
    EXPECT_EQ(named({"night/c?.csv"}), (Names{"night/c2.csv", "night/c9.csv"}));
    EXPECT_EQ(named({(folder.path() / "night").string()}).front(), folder / "night/c2.csv");
    EXPECT_EQ(named({"alone.csv", "night", "alone.csv", "night/c9.csv"}).size(), 4u); // each once
    EXPECT_EQ(named({"not there.csv"}), Names{"not there.csv"});                      // which reading it will say
    EXPECT_EQ(named({"none*"}), Names{});
    // What looks like a pattern and is there is that file.
    folder.write("a[1].csv", "v\n1\n");
    EXPECT_EQ(named({"a[1].csv"}), Names{"a[1].csv"});
}

TEST_F(RunMembers, OfOneOpenRecordingIsItsDescription)
{
    for (const char *name : {"night/r.sigmf-meta", "night/r.sigmf-data"}) folder.write(name, "{}");
    EXPECT_THAT(named({"night"}), testing::AllOf(testing::Contains("night/r.sigmf-meta"),
                                                 testing::Not(testing::Contains("night/r.sigmf-data"))));
}

TEST_F(RunMembers, OneWithoutARunIsItself)
{
    const Document document = documentWith(R"({"id": "a", "file": "alone.csv"})");
    EXPECT_FALSE(hasRun(document));
    EXPECT_EQ(namesOf(membersOf(document, folder.path())), Names{"alone.csv"});
}

TEST_F(RunMembers, OfSeveralCapturesGoSideBySide)
{
    const Document document = documentWith(R"({"id": "p", "file": "x", "run": {"files": ["p1", "p2", "p3"]}},
        {"id": "n", "file": "y", "run": {"files": ["n1", "n2", "n3"], "left_out": {"n2": "the probe fell off"}}},
        {"id": "probe", "file": "alone.csv"}, {"id": "once", "file": "z", "run": {"files": "one"}})");
    const auto members = membersOf(document, folder.path());
    EXPECT_EQ(namesOf(members), (Names{"p1, n1, one", "p2, n2, one", "p3, n3, one"}));
    EXPECT_EQ(members[1].leftOut, "the probe fell off");
    EXPECT_EQ(members[0].leftOut, "");
    Document before = document;
    before.captures[0].sha256 = before.captures[2].sha256 = "f0";
    const Document second = documentOf(before, members[1]);
    EXPECT_EQ(second.captures[0].file, "p2");
    EXPECT_EQ(second.captures[0].sha256, ""); // of another file
    EXPECT_EQ(second.captures[2].sha256, "f0");
    EXPECT_EQ(ownMember(second).name, members[1].name);
    EXPECT_EQ(ownMember(second).leftOut, members[1].leftOut);
}

TEST_F(RunMembers, AFileOfTriggeredSegmentsIsARunByItself)
{
    // Three of 100, 50 and 150 samples, each rising from 0.
    std::vector<std::int16_t> samples;
    for (const int length : {100, 50, 150})
        for (int i = 0; i < length; ++i) samples.push_back(std::int16_t(i));
    folder.write("s.sigmf-data", std::string(reinterpret_cast<const char *>(samples.data()), 2 * samples.size()));
    folder.write("s.sigmf-meta", R"({"global": {"core:datatype": "ri16_le", "core:sample_rate": 1e6}, "captures":
        [{"core:sample_start": 0}, {"core:sample_start": 100}, {"core:sample_start": 150}], "annotations": []})");
    const Document document = documentWith(
        R"({"id": "r", "file": "s.sigmf-meta", "import": {"segment": 1}, "run": {"left_out": {"s.sigmf-meta #3": "late"}}})");
    EXPECT_TRUE(hasRun(document));
    const auto members = membersOf(document, folder.path());
    EXPECT_EQ(namesOf(members), (Names{"s.sigmf-meta #1", "s.sigmf-meta #2", "s.sigmf-meta #3"}));
    EXPECT_EQ(members[2].leftOut, "late");
    EXPECT_EQ(ownMember(document).name, "s.sigmf-meta #2");
    const std::int64_t lengths[] = {100, 50, 150};
    for (std::size_t i = 0; i < 3; ++i) {
        const Document one = documentOf(document, members[i]);
        Progress progress;
        const Capture capture = readCapture(folder.path() / one.captures[0].file, one.captures[0].import, progress);
        ASSERT_EQ(capture.axis.count, lengths[i]);
        std::vector<double> values(std::size_t(lengths[i]));
        capture.columns[0].read(0, values);
        EXPECT_EQ(values.front(), 0);
        EXPECT_EQ(values.back(), double(lengths[i] - 1));
        EXPECT_TRUE(capture.remarks.empty());
    }
}

TEST_F(RunMembers, SegmentsOfEqualLengthAreCutWhereTheProjectSaysSo)
{
    std::string table = "v\n";
    for (int i = 0; i < 103; ++i) table += std::to_string(i) + "\n";
    folder.write("t.csv", table);
    const Document document =
        documentWith(R"({"id": "r", "file": "t.csv", "import": {"sample_interval": 1, "segments": 4, "segment": 0}})");
    const auto members = membersOf(document, folder.path());
    ASSERT_EQ(members.size(), 4u);
    const Document last = documentOf(document, members[3]);
    Progress progress;
    const Capture capture = readCapture(folder.path() / "t.csv", last.captures[0].import, progress);
    ASSERT_EQ(capture.axis.count, 25); // what is left over belongs to none
    std::vector<double> values(25);
    capture.columns[0].read(0, values);
    EXPECT_EQ(values.front(), 75);
    // One that is not there, and a file that has none.
    ImportOptions options = last.captures[0].import;
    options.segment = 4;
    EXPECT_THROW(readCapture(folder.path() / "t.csv", options, progress), Error);
    options.segments.reset();
    try {
        readCapture(folder.path() / "t.csv", options, progress);
        FAIL();
    } catch (const Error &error) {
        EXPECT_THAT(error.what(), testing::HasSubstr("does not say that it consists of segments"));
    }
}

TEST_F(RunMembers, UnequallyManyAreRefused)
{
    const Document document = documentWith(R"({"id": "p", "file": "x", "run": {"files": ["p1", "p2", "p3"]}},
        {"id": "n", "file": "y", "run": {"files": ["n1", "n2"]}})");
    try {
        membersOf(document, folder.path());
        FAIL();
    } catch (const Error &error) {
        EXPECT_STREQ(error.what(), "captures: \"n\" has 2 files, \"p\" 3; give each as many, or one");
    }
    EXPECT_TRUE(
        membersOf(documentWith(R"({"id": "p", "file": "x", "run": {"files": "none*"}})"), folder.path()).empty());
}

TEST_F(RunMembers, DocumentsThatSayThemWrongAreRefused)
{
    EXPECT_THROW(documentWith(R"({"id": "p"})"), Error);
    EXPECT_NO_THROW(documentWith(R"({"id": "p", "run": {"files": "night"}})"));
    EXPECT_THROW(documentWith(R"({"id": "p", "run": {"files": "night", "left_out": {"a": ""}}})"), Error);
    EXPECT_THROW(documentWith(R"({"id": "p", "run": {"files": "night", "left_out": ["a"]}})"), Error);
    EXPECT_THROW(documentWith(R"({"id": "p", "run": {"files": "night", "stop_at": 0}})"), Error);
    EXPECT_THROW(documentWith(R"({"id": "p", "run": {"files": "night", "stops": 1}})"), Error);
}

TEST_F(RunMembers, AProjectThatNamesNoFileShowsTheFirst)
{
    folder.write("p.fulvex", R"({"fulvex": 1, "captures": [{"id": "p", "run": {"files": "night"}}]})");
    Progress progress;
    EXPECT_EQ(openProject(folder / "p.fulvex", progress).document.captures[0].file, "night/c2.csv");
}

TEST_F(RunMembers, SavedElsewhereTheyAreStillFoundAndPackedTheyAreAllThere)
{
    const Document document = documentWith(R"({"id": "p", "file": "night/c9.csv", "run": {"files": ["night/*.csv",
        "alone.csv"], "left_out": {"night/c2.csv": "late", "gone.csv": "early"}, "stop_at": 2}})");
    Progress progress;
    fs::create_directory(folder / "other");
    saveProject(document, folder.path(), folder / "other/p.fulvex", progress);
    const OpenedProject saved = openProject(folder / "other/p.fulvex", progress);
    EXPECT_EQ(membersOf(saved.document, saved.base).size(), 4u);
    EXPECT_EQ(membersOf(saved.document, saved.base)[0].leftOut, "late");
    EXPECT_EQ(saved.document.captures[0].run.stopAt, 2);
    packProject(document, folder.path(), folder / "p.fulvexpack", progress);
    fs::remove_all(folder / "night");
    const OpenedProject packed = openProject(folder / "p.fulvexpack", progress);
    const auto members = membersOf(packed.document, packed.base);
    ASSERT_EQ(members.size(), 4u);
    EXPECT_EQ(members[0].leftOut, "late");
    for (const RunMember &member : members) EXPECT_TRUE(fs::exists(packed.base / member.files[0])) << member.name;
    EXPECT_EQ(packed.document.captures[0].run.leftOut.size(), 1u);
    EXPECT_TRUE(fs::exists(packed.base / packed.document.captures[0].file));
}

TEST_F(RunMembers, FilesOfOneNameInSeveralFoldersStayApartInAPack)
{
    fs::create_directory(folder / "day");
    folder.write("day/c2.csv", "v\n3\n4\n");
    const Document document =
        documentWith(R"({"id": "p", "file": "day/c2.csv", "run": {"files": ["night/c2.csv", "day/c2.csv"]}})");
    Progress progress;
    packProject(document, folder.path(), folder / "p.fulvexpack", progress);
    const OpenedProject packed = openProject(folder / "p.fulvexpack", progress);
    const auto members = membersOf(packed.document, packed.base);
    ASSERT_EQ(members.size(), 2u);
    EXPECT_EQ(test::readAll(packed.base / members[0].files[0]), "v\n1\n2\n");
    EXPECT_EQ(test::readAll(packed.base / members[1].files[0]), "v\n3\n4\n");
    EXPECT_EQ(packed.document.captures[0].file, members[1].files[0]);
}

} // namespace
} // namespace fulvex
