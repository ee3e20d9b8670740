#include "atomic_file.h"
#include "error.h"
#include "fingerprint.h"
#include "process_tag.h"
#include "temporary_folder.h"

#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace fulvex;
namespace fs = std::filesystem;

namespace {

std::ptrdiff_t entriesIn(const fs::path &folder)
{
    return std::distance(fs::directory_iterator(folder), {});
}

int modeOf(const fs::path &path)
{
    struct stat facts {};
    ::stat(path.c_str(), &facts);
    return int(facts.st_mode & 07777);
}

} // namespace

TEST(AtomicFile, ReplacesWhole)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a.txt", "old");
    writeFileAtomically(path, "new text");
    EXPECT_EQ(test::readAll(path), "new text");
    EXPECT_EQ(entriesIn(folder.path()), 1) << "a temporary file was left";
}

TEST(AtomicFile, AFailureLeavesWhatWasThere)
{
    const test::TemporaryFolder folder;
    fs::create_directory(folder / "taken"); // a folder cannot be replaced by a file
    EXPECT_THROW(writeFileAtomically(folder / "taken", "x"), Error);
    EXPECT_TRUE(fs::is_directory(folder / "taken"));
    EXPECT_THROW(writeFileAtomically(folder / "missing/file", "x"), Error);
    EXPECT_EQ(entriesIn(folder.path()), 1);
}

TEST(AtomicFile, KeepsThePermissionsAndFollowsLinks)
{
    const test::TemporaryFolder folder;
    fs::create_directory(folder / "elsewhere");
    const std::string path = folder.write("elsewhere/a.txt", "old");
    ::chmod(path.c_str(), 0640);
    fs::create_symlink("elsewhere/a.txt", folder / "link");
    fs::create_symlink("elsewhere/new.txt", folder / "dangling");
    writeFileAtomically(folder / "link", "new");
    writeFileAtomically(folder / "dangling", "made");
    EXPECT_TRUE(fs::is_symlink(folder / "link"));
    EXPECT_EQ(test::readAll(path), "new");
    EXPECT_EQ(modeOf(path), 0640);
    EXPECT_TRUE(fs::is_symlink(folder / "dangling"));
    EXPECT_EQ(test::readAll(folder / "elsewhere/new.txt"), "made");
    const mode_t mask = ::umask(027);
    writeFileAtomically(folder / "private", "x");
    ::umask(mask);
    EXPECT_EQ(modeOf(folder / "private"), 0640); // as any new file
}

TEST(AtomicFile, AKilledWriterLeavesNothingOrWhatTheNextCleans)
{
    const test::TemporaryFolder folder;
    const std::string path = folder.write("a.txt", "old");
    const auto killedAfter = [&](const std::function<void(AtomicFile &)> &act) {
        const pid_t child = ::fork();
        if (child == 0) {
            AtomicFile file(path);
            file.write("half");
            act(file);
            ::kill(::getpid(), SIGKILL);
        }
        ::waitpid(child, nullptr, 0);
    };
    killedAfter([](AtomicFile &) {});
    EXPECT_EQ(entriesIn(folder.path()), 1);
    killedAfter([](AtomicFile &file) { file.temporary(); }); // what a library needs to write by name
    EXPECT_EQ(test::readAll(path), "old");
    writeFileAtomically(path, "new");
    EXPECT_EQ(entriesIn(folder.path()), 1);
    EXPECT_EQ(test::readAll(path), "new");
}

TEST(FileSet, AllArePutInPlaceOrNone)
{
    const test::TemporaryFolder folder;
    folder.write("a", "old a");
    folder.write("c", "old c");
    {
        FileSet set;
        for (const char *name : {"a", "b", "c"}) set.add(folder / name).write(std::string("new ") + name);
        EXPECT_EQ(test::readAll(folder / "a"), "old a"); // nothing before the commit
        set.commit();
    }
    for (const char *name : {"a", "b", "c"}) EXPECT_EQ(test::readAll(folder / name), std::string("new ") + name);
    EXPECT_EQ(entriesIn(folder.path()), 3);
    FileSet set;
    for (const char *name : {"a", "b", "d", "c"}) set.add(folder / name).write("newer");
    fs::remove(folder / "c");
    fs::create_directory(folder / "c"); // where a file cannot be put any more
    folder.write("c/inside", "");
    EXPECT_THROW(set.commit(), Error);
    for (const char *name : {"a", "b"}) EXPECT_EQ(test::readAll(folder / name), std::string("new ") + name);
    EXPECT_FALSE(fs::exists(folder / "d"));
}

TEST(ProcessTag, TellsProcessesThatRunFromThoseThatAreOver)
{
    EXPECT_FALSE(isOver(processTag()));
    EXPECT_FALSE(isOverHere(processTag()));
    const std::string boot = processTag().substr(0, processTag().find('-'));
    EXPECT_TRUE(isOver(boot + "-999999999-1"));
    const std::string own = processTag();
    EXPECT_TRUE(isOver(own + "1")); // the same number, begun at another time
    EXPECT_FALSE(isOver("ffffffff-999999999-1")); // perhaps of another machine
    EXPECT_TRUE(isOverHere("ffffffff-999999999-1"));
    for (const char *none : {"", "x", "notes", "a-b-c", "-1-"}) EXPECT_FALSE(isOverHere(none)) << none;
}

TEST(Fingerprint, IsSha256)
{
    EXPECT_EQ(sha256(std::string_view("abc")),
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"); // FIPS 180-4
}
