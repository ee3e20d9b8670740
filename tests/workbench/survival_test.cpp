// A program that is killed at any moment, over and over on the same files: nothing that was saved is lost, and of what
// was not, the last second at most.

#include "atomic_file.h"
#include "fingerprint.h"
#include "project_file.h"
#include "signals.h"
#include "temporary_folder.h"

#include <csignal>
#include <gtest/gtest.h>
#include <map>
#include <random>
#include <set>
#include <spawn.h>
#include <sstream>
#include <sys/wait.h>
#include <thread>

using namespace fulvex;
namespace fs = std::filesystem;

namespace {

/// What the actor told of itself so far.
struct Journal {
    int begun = -1, begins = 0;                      ///< the last one's number; how many
    std::vector<std::pair<int, std::int64_t>> edits; ///< of the last begin: number, ms
    std::map<std::string, int> saved;                ///< of all times
    std::int64_t longestStall = 0;                   ///< ms between edits, of the last begin

    explicit Journal(const std::string &text)
    {
        std::istringstream lines(text);
        for (std::string line; std::getline(lines, line);) {
            std::istringstream words(line);
            std::string what, name;
            int number = 0;
            words >> what;
            std::int64_t at = 0;
            words >> number;
            if (what == "begun") {
                begun = number;
                ++begins;
                edits.clear();
                longestStall = 0;
            } else if (what == "edit") {
                words >> at;
                if (!edits.empty()) longestStall = std::max(longestStall, at - edits.back().second);
                edits.emplace_back(number, at);
            } else if (what == "saved") {
                words >> name;
                saved[name] = std::max(saved[name], number);
            }
        }
    }
    /// The newest edit that must not be lost by an end after the last line, where the disk took up to `longestWrite`
    /// (ms) for a file: a copy may wait for the one before, and each is two files after a crash.
    int mustHave(std::int64_t longestWrite) const
    {
        int newest = begun;
        const std::int64_t patience = longestStall + 4 * longestWrite;
        for (const auto &[number, at] : edits) {
            if (edits.back().second - at > 1000 + patience) newest = number;
        }
        return newest;
    }
};

/// Lets the time pass and tells what the disk takes for a small file meanwhile (the longest, ms): what is no fault of
/// the program's.
std::int64_t longestWriteWithin(std::chrono::milliseconds time, const fs::path &file)
{
    using namespace std::chrono;
    std::int64_t longest = 0;
    const auto end = steady_clock::now() + time;
    while (steady_clock::now() < end) {
        const auto begun = steady_clock::now();
        writeFileAtomically(file, "x");
        longest = std::max<std::int64_t>(longest, duration_cast<milliseconds>(steady_clock::now() - begun).count());
        std::this_thread::sleep_for(milliseconds(10));
    }
    return longest;
}

class Actor {
public:
    Actor(const fs::path &folder, std::uint64_t seed)
    {
        std::vector<std::string> words{FULVEX_SURVIVAL_ACTOR, folder.string(), std::to_string(seed)};
        std::vector<char *> arguments;
        for (std::string &word : words) arguments.push_back(word.data());
        arguments.push_back(nullptr);
        std::vector<std::string> settings{"QT_QPA_PLATFORM=offscreen", "XDG_DATA_HOME=" + (folder / "data").string(),
                                          "XDG_CACHE_HOME=" + (folder / "cache").string(),
                                          "XDG_RUNTIME_DIR=" + folder.string(), "HOME=" + folder.string()};
        std::vector<char *> environment;
        for (std::string &setting : settings) environment.push_back(setting.data());
        environment.push_back(nullptr);
        EXPECT_EQ(::posix_spawn(&m_id, arguments[0], nullptr, nullptr, arguments.data(), environment.data()), 0);
    }
    ~Actor()
    {
        ::kill(m_id, SIGKILL);
        ::waitpid(m_id, &m_status, 0);
    }
    bool runs() { return ::waitpid(m_id, &m_status, WNOHANG) == 0; }

private:
    pid_t m_id = -1;
    int m_status = 0;
};

int numberOf(const fs::path &project)
{
    Progress progress;
    const OpenedProject opened = openProject(project, progress);
    for (const CaptureEntry &capture : opened.document.captures) {
        const std::string bytes = test::readAll(opened.base / capture.file);
        EXPECT_EQ(bytes.size(), 400000u) << project;
        EXPECT_TRUE(capture.sha256.empty() || capture.sha256 == sha256(bytes)) << project;
    }
    return std::stoi(opened.document.title);
}

class Survival : public testing::TestWithParam<std::uint64_t> {};

} // namespace

TEST_P(Survival, NothingSavedIsLostByAKillAtAnyMoment)
{
    const test::TemporaryFolder folder, beside;
    const fs::path journalFile = folder.path() / "journal";
    std::vector<double> volts(50000);
    for (std::size_t i = 0; i < volts.size(); ++i) volts[i] = (i / 40) % 2 ? 0.5 : -0.5;
    folder.write("r.raw", test::bytesOf(volts));
    folder.write("p.fulvex", R"({"fulvex": 1, "title": "0",
        "captures": [{"id": "r", "file": "r.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-9}}],
        "channels": [{"id": "a", "capture": "r"}], "clocks": [{"id": "k", "source": "a"}],
        "measurements": [{"id": "rms", "quantity": "rms", "source": "a"}, {"id": "tie", "quantity": "time_interval_error", "clock": "k"}]})");
    std::mt19937_64 random(GetParam());
    constexpr int rounds = 100;
    int mustHave = 0, recovered = 0;
    std::int64_t longestWrite = 0;
    for (int round = 0; round <= rounds && !HasFailure(); ++round) {
        SCOPED_TRACE(round);
        {
            Actor actor(folder.path(),
                        std::uint64_t(round) + 1); // whose edits have numbers above those of the one before
            const auto told = [&] { return Journal(test::readAll(journalFile)); };
            while (told().begins <= round && actor.runs()) std::this_thread::sleep_for(std::chrono::milliseconds(3));
            const Journal at = told();
            ASSERT_EQ(at.begins, round + 1) << "it ended by itself";
            // What was saved as the pack is the pack's, where it was not changed since.
            const int inPack = at.saved.count("w.fulvexpack") ? at.saved.at("w.fulvexpack") : 0;
            EXPECT_GE(std::max(at.begun, inPack), mustHave);
            recovered += at.begun > (at.saved.count("p.fulvex") ? at.saved.at("p.fulvex") : 0);
            // Most soon, some after a second, when copies for the case of a crash are about.
            const int life = random() % 5 ? int(random() % 300) : 700 + int(random() % 700);
            longestWrite = longestWriteWithin(std::chrono::milliseconds(life), beside.path() / "probe");
            ASSERT_TRUE(actor.runs()) << "it ended by itself";
        }
        const Journal journal(test::readAll(journalFile));
        mustHave = journal.mustHave(longestWrite);
        for (const auto &[name, number] : journal.saved) {
            EXPECT_GE(numberOf(folder.path() / name), number) << name;
        }
        const std::string table = test::readAll(folder.path() / "table.txt");
        EXPECT_TRUE(table.empty() ? !fs::exists(folder.path() / "table.txt") : table.ends_with("\nend\n"));
    }
    EXPECT_GT(recovered, 5); // it was not all saved
    Progress progress;
    const OpenedProject last = openProject(folder.path() / "p.fulvex", progress);
    saveProject(last.document, last.base, folder.path() / "p.fulvex", progress); // whoever writes next, tidies
    std::set<std::string> names;
    for (const auto &entry : fs::directory_iterator(folder.path())) names.insert(entry.path().filename());
    EXPECT_EQ(names,
              (std::set<std::string>{"cache", "data", "journal", "p.fulvex", "r.raw", "table.txt", "w.fulvexpack"}))
        << "half-written files were left";
}

/// Mostly it waits: side by side with others.
INSTANTIATE_TEST_SUITE_P(Kills, Survival, testing::Values(20, 21));
