// Packed projects: nothing that lies on disk is lost by them, and nothing is done that nobody agreed to.

#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "project_file.h"
#include "temporary_folder.h"
#include "zip_archive.h"

#include <cstdlib>
#include <gmock/gmock.h>
#include <sys/stat.h>

using namespace fulvex;
using testing::HasSubstr;
namespace fs = std::filesystem;

namespace {

struct PackedSafety : testing::Test {
    PackedSafety() { setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1); }
    /// A pack of one capture and one mask file.
    std::string pack(const std::string &samples = "v\n1\n2\n3\n")
    {
        folder.write("link.csv", samples);
        folder.write("own.mask.json", "{}");
        Document document;
        document.title = "packed";
        document.captures = {{"link", "link.csv", "", {}}};
        document.channels.resize(1);
        document.channels[0].id = "p";
        document.channels[0].capture = "link";
        document.clocks.resize(1);
        document.clocks[0].id = "k";
        document.clocks[0].source = "p";
        document.eyes = {{"e", "p", "k", {}}};
        document.masks = {{"m", "e", "own.mask.json", 0}, {"shipped", "e", "ieee-802.3-1000base-x", 0}};
        packProject(document, folder.path(), folder / "link.fulvexpack", progress);
        fs::remove(folder / "link.csv");
        fs::remove(folder / "own.mask.json");
        return folder / "link.fulvexpack";
    }
    std::string zipOf(const std::vector<std::pair<std::string, std::string>> &entries)
    {
        int failure = 0;
        zip_t *zip = zip_open((folder / "a.fulvexpack").c_str(), ZIP_CREATE | ZIP_TRUNCATE, &failure);
        for (const auto &[entry, bytes] : entries)
            zip_file_add(zip, entry.c_str(), zip_source_buffer(zip, bytes.data(), bytes.size(), 0), 0);
        EXPECT_EQ(zip_close(zip), 0);
        return folder / "a.fulvexpack";
    }
    ino_t inodeOf(const fs::path &path) const
    {
        struct stat facts {};
        ::stat(path.c_str(), &facts);
        return facts.st_ino;
    }
    test::TemporaryFolder folder;
    Progress progress;
};

} // namespace

TEST_F(PackedSafety, SavingAsAPlainProjectCopiesOnceAndNeverWritesOverWhatLiesThere)
{
    const OpenedProject opened = openProject(pack(), progress);
    const fs::path copy = folder.path() / "plain-captures/link/link.csv";
    saveProject(opened.document, opened.base, folder / "plain.fulvex", progress);
    const ino_t inode = inodeOf(copy);
    ASSERT_NE(inode, 0u);
    const auto reader = MappedFile::open(copy); // a batch run, say
    saveProject(opened.document, opened.base, folder / "plain.fulvex", progress);
    EXPECT_EQ(inodeOf(copy), inode);
    EXPECT_EQ(reader->disturbance(), "");
    // Another pack saved under the same name: what the project that was there stands on stays.
    const OpenedProject other = openProject(pack("v\n7\n8\n9\n"), progress);
    saveProject(other.document, other.base, folder / "plain.fulvex", progress);
    EXPECT_EQ(test::readAll(copy), "v\n1\n2\n3\n");
    EXPECT_EQ(loadDocument(folder / "plain.fulvex").captures[0].file, "plain-captures/link-2/link.csv");
    EXPECT_EQ(test::readAll(folder.path() / "plain-captures/link-2/link.csv"), "v\n7\n8\n9\n");
}

TEST_F(PackedSafety, MaskFilesComeAlong)
{
    const OpenedProject opened = openProject(pack(), progress);
    EXPECT_EQ(opened.document.masks[0].mask, "masks/m/own.mask.json");
    EXPECT_EQ(opened.document.masks[1].mask, "ieee-802.3-1000base-x");
    EXPECT_EQ(test::readAll(opened.base / opened.document.masks[0].mask), "{}");
    saveProject(opened.document, opened.base, folder / "plain.fulvex", progress);
    const Document plain = loadDocument(folder / "plain.fulvex");
    EXPECT_EQ(test::readAll(folder.path() / plain.masks[0].mask), "{}");
    // Saved again from there into another folder, it is still found.
    fs::create_directories(folder / "elsewhere");
    saveProject(plain, folder.path(), folder / "elsewhere/b.fulvex", progress);
    EXPECT_TRUE(fs::exists(folder.path() / "elsewhere" / loadDocument(folder / "elsewhere/b.fulvex").masks[0].mask));
}

TEST_F(PackedSafety, AnUnpackingThatWasTouchedIsMadeAnew)
{
    const std::string packed = pack();
    const OpenedProject first = openProject(packed, progress);
    const fs::path samples = first.base / first.document.captures[0].file;
    const auto time = fs::last_write_time(samples);
    std::ofstream(samples) << "v\n9\n9\n9\n"; // of the same length,
    fs::last_write_time(samples, time);       // and as old
    const OpenedProject second = openProject(packed, progress);
    EXPECT_EQ(test::readAll(second.base / second.document.captures[0].file), "v\n1\n2\n3\n");
    fs::remove(second.base / second.document.captures[0].file);
    const OpenedProject third = openProject(packed, progress);
    EXPECT_EQ(test::readAll(third.base / third.document.captures[0].file), "v\n1\n2\n3\n");
}

TEST_F(PackedSafety, AnotherPackOfTheSameSizeAndTimeIsAnother)
{
    const std::string packed = pack();
    openProject(packed, progress);
    const auto time = fs::last_write_time(packed);
    const auto size = fs::file_size(packed);
    pack("v\n4\n5\n6\n");
    fs::last_write_time(packed, time);
    ASSERT_EQ(fs::file_size(packed), size);
    const OpenedProject opened = openProject(packed, progress);
    EXPECT_EQ(test::readAll(opened.base / opened.document.captures[0].file), "v\n4\n5\n6\n");
}

TEST_F(PackedSafety, OneThatGrowsAThousandfoldAsksFirst)
{
    const std::string packed =
        zipOf({{"project.fulvex", "{\"fulvex\": 1}"}, {"captures/a/zeros.raw", std::string(300u << 20, '\0')}});
    ASSERT_LT(fs::file_size(packed), 1u << 20);
    try {
        openProject(packed, progress);
        FAIL() << "it was unpacked unasked";
    } catch (const NeedsConsent &question) {
        EXPECT_THAT(question.what(), HasSubstr("would unpack to 314 MB"));
        EXPECT_EQ(question.wanted(), (PackConsent{.large = true}));
    }
    EXPECT_TRUE(fs::is_empty(folder / "cache/fulvex/unpacked"));
    EXPECT_TRUE(openProject(packed, progress, {.large = true}).packed);
}

TEST_F(PackedSafety, OneThatNamesFilesOutsideAsksFirst)
{
    for (const char *file : {"/etc/passwd", "../../secret.csv"}) {
        const std::string document = std::string(R"({"fulvex": 1, "captures": [{"id": "c", "file": ")") + file + R"("}]})";
        const std::string packed = zipOf({{"project.fulvex", document}});
        try {
            openProject(packed, progress);
            FAIL() << file;
        } catch (const NeedsConsent &question) {
            EXPECT_THAT(question.what(), HasSubstr(std::string("does not lie in the pack, \"") + file));
        }
        EXPECT_EQ(openProject(packed, progress, {.outside = true}).document.captures[0].file, file);
    }
}

TEST_F(PackedSafety, WhatAKilledProgramLeftHalfUnpackedGoes)
{
    fs::create_directories(folder / "cache/fulvex/unpacked/0123.00000000-1-1.part"); // of another boot or machine
    std::string boot;
    std::ifstream("/proc/sys/kernel/random/boot_id") >> boot;
    fs::create_directories(folder.path() / "cache/fulvex/unpacked" / ("4567." + boot.substr(0, 8) + "-999999999-1.part"));
    openProject(pack(), progress);
    std::vector<std::string> names;
    for (const auto &entry : fs::directory_iterator(folder / "cache/fulvex/unpacked"))
        names.push_back(entry.path().filename().string());
    EXPECT_EQ(names.size(), 2u); // the new one, and what may be somebody's
}
