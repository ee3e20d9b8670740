// Files that others do things to while they are open here.

#include "atomic_file.h"
#include "error.h"
#include "fingerprint.h"
#include "mapped_file.h"
#include "temporary_folder.h"

#include <atomic>
#include <gmock/gmock.h>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

using namespace fulvex;
using testing::HasSubstr;
namespace fs = std::filesystem;

namespace {

std::string openingSays(const fs::path &path)
{
    try {
        MappedFile::open(path);
        return "opened";
    } catch (const Error &error) {
        return error.what();
    }
}

std::size_t sumOf(const MappedFile &file)
{
    std::size_t sum = 0;
    for (const std::byte b : file.bytes()) sum += std::size_t(b);
    return sum;
}

} // namespace

TEST(MappedFile, WhatIsNoRegularFileIsRefusedAtOnce)
{
    const test::TemporaryFolder folder;
    ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
    fs::create_directory(folder / "folder");
    EXPECT_THAT(openingSays(folder / "pipe"), HasSubstr("pipe: is not a regular file"));
    EXPECT_THAT(openingSays(folder / "folder"), HasSubstr("is not a regular file"));
    EXPECT_THAT(openingSays("/dev/zero"), HasSubstr("is not a regular file"));
    EXPECT_THAT(openingSays(folder / "none"), HasSubstr("No such file"));
}

TEST(MappedFile, AFileCutShortReadsAsZerosAndSaysSo)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a", std::string(1 << 20, '\1'));
    const auto file = MappedFile::open(path), other = MappedFile::open(folder.write("b", std::string(1 << 20, '\1')));
    EXPECT_EQ(file->disturbance(), "");
    ASSERT_EQ(::truncate(path.c_str(), 8192), 0); // reading behind would end the program
    EXPECT_EQ(sumOf(*file), 8192u);
    EXPECT_THAT(file->disturbance(), HasSubstr("was cut from 1048576 to 8192 bytes"));
    EXPECT_EQ(sumOf(*other), 1u << 20); // nothing of anybody else is touched
    EXPECT_EQ(other->disturbance(), "");
}

TEST(MappedFile, WritingInPlaceIsNoticedAlsoWhereTheTimeIsPutBack)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a", "12345678");
    const auto time = fs::last_write_time(path);
    ::usleep(20'000); // a step of the file system's clock
    const auto file = MappedFile::open(path);
    const FileIdentity before = identityOf(path);
    std::ofstream(path) << "87654321";
    fs::last_write_time(path, time);
    EXPECT_THAT(file->disturbance(), HasSubstr("was written to"));
    EXPECT_NE(identityOf(path), before); // same length, same time, same place
    EXPECT_THROW(sha256OfFiles(std::vector{file}, *std::make_unique<Progress>()), Error);
}

TEST(MappedFile, ExchangingItForAnotherOrMovingItAwayChangesNoByte)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a", "before");
    const auto file = MappedFile::open(path);
    ::usleep(20'000); // a step of the file system's clock
    FileSet set;
    set.add(path).write("afterwards");
    set.commit();
    EXPECT_EQ(file->disturbance(), ""); // it still has a name, that of the temporary file
    const auto moved = MappedFile::open(path);
    ::usleep(20'000);
    fs::rename(path, folder / "b");
    EXPECT_EQ(moved->disturbance(), "");
    std::ofstream(folder / "b") << "ten bytes.";
    EXPECT_THAT(moved->disturbance(), HasSubstr("was written to"));
}

TEST(MappedFile, ATextThatIsBeingSavedIsReadAsBeforeOrAfterAndNeverRefused)
{
    const test::TemporaryFolder folder;
    const std::string texts[] = {std::string(3000, 'a'), std::string(3000, 'b')}, path = folder.write("t", texts[0]);
    std::atomic<bool> over = false;
    std::thread writer([&] {
        for (int i = 1; i < 300; ++i) writeFileAtomically(path, texts[i % 2]);
        over = true;
    });
    int read = 0;
    std::string failure;
    for (; !over; ++read) {
        try {
            const std::string text = readTextFile(path);
            if (text != texts[0] && text != texts[1]) failure = "read a mixture";
        } catch (const Error &error) {
            failure = error.what();
        }
    }
    writer.join();
    EXPECT_EQ(failure, "") << "among " << read;
}

TEST(MappedFile, ReplacingItByRenamingDisturbsNobodyWhoHasItOpen)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a", "before");
    const auto file = MappedFile::open(path);
    writeFileAtomically(path, "afterwards");
    Progress progress;
    EXPECT_EQ(sha256OfFiles(std::vector{file}, progress), sha256(std::string_view("before")));
    EXPECT_EQ(file->disturbance(), "");
    EXPECT_NE(identityOf(path), file->identity());
}
