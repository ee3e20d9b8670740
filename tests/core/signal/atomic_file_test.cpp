#include "atomic_file.h"
#include "error.h"
#include "fingerprint.h"
#include "temporary_folder.h"

using namespace fulvex;

TEST(AtomicFile, ReplacesWhole)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a.txt", "old");
    writeFileAtomically(path, "new text");
    EXPECT_EQ(test::readAll(path), "new text");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1) << "a temporary file was left";
}

TEST(AtomicFile, AFailureLeavesWhatWasThere)
{
    const test::TemporaryFolder folder;
    std::filesystem::create_directory(folder / "taken"); // a folder cannot be replaced by a file
    EXPECT_THROW(writeFileAtomically(folder / "taken", "x"), Error);
    EXPECT_TRUE(std::filesystem::is_directory(folder / "taken"));
    EXPECT_THROW(writeFileAtomically(folder / "missing/file", "x"), Error);
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1);
}

TEST(Fingerprint, IsSha256)
{
    EXPECT_EQ(sha256(std::string_view("abc")),
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"); // FIPS 180-4
}
