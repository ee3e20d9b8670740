// Files of others are hostile: good ones are cut and scrambled in thousands of ways; each must be read or refused with
// an Error, never crash, hang, or hold more than the file can fill.

#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "mask_definition.h"
#include "project_file.h"
#include "temporary_folder.h"

#include <cmath>
#include <random>

using namespace fulvex;

namespace {

const std::string array = std::string("\x93NUMPY\x01\x00\x46\x00", 10) +
                          "{'descr': '<i2', 'fortran_order': False, 'shape': (20, 2), }         \n" +
                          std::string(80, '\x07');
const std::string table =
    "\xEF\xBB\xBF# made up\r\nTime (us);CH1 (mV);\r\n0,0;1,5;\r\n0,1;2,5;\r\n0,2;nan;\r\n0,3;;\r\n0,4;1e3;\r\n";
const std::string project =
    R"json({"fulvex": 1, "captures": [{"id": "r", "file": "a.npy", "import": {"sample_interval": 1e-9}}],
 "channels": [{"id": "a", "capture": "r"}, {"id": "b", "formula": "-a * 2m ^ 2 + min(a, 1)"}],
 "clocks": [{"id": "c", "source": "b", "method": "pll", "bandwidth": 1e6}], "eyes": [{"id": "e", "source": "b", "clock": "c"}],
 "measurements": [{"id": "m", "quantity": "eye_height", "eye": "e", "limit": {"min": 1, "max": null}}]})json";
const std::string mask = R"({"fulvex_mask": 1, "id": "m", "x": "ui", "y": "V", "areas": [
 {"name": "a", "kind": "closed", "points": [[0, 0], [1, 0], [0.5, 1]]}, {"name": "b", "kind": "above", "points": [[0, 2], [1, 2]]}]})";

/// Cuts, overwrites, repeats, inserts: one to four of these.
std::string scrambled(std::string bytes, std::mt19937_64 &random)
{
    static const std::string tokens[] = {"",
                                         ",",
                                         ";",
                                         "\n",
                                         "-",
                                         "1e999",
                                         "NaN",
                                         "\"",
                                         "{",
                                         "]",
                                         "null",
                                         "99999999999999999999",
                                         std::string(1, '\0'),
                                         "\xff\xfe"};
    for (std::uint64_t times = 1 + random() % 4; times > 0 && !bytes.empty(); --times) {
        const std::size_t at = random() % bytes.size(),
                          length = random() % std::min<std::size_t>(bytes.size() - at, 24);
        switch (random() % 5) {
        case 0:
            bytes.resize(at);
            break;
        case 1:
            bytes[at] = char(random());
            break;
        case 2:
            bytes.insert(at, bytes.substr(at, length));
            break;
        case 3:
            bytes.erase(at, length);
            break;
        default:
            bytes.replace(at, length, tokens[random() % std::size(tokens)]);
        }
    }
    return bytes;
}

template <typename Use>
void throwAt(const std::string &good, Use &&use)
{
    std::mt19937_64 random(good.size());
    int refused = 0, taken = 0;
    for (int round = 0; round < 3000; ++round) {
        const std::string bytes = scrambled(good, random);
        try {
            use(bytes);
            ++taken;
        } catch (const Error &error) {
            ++refused;
            ASSERT_GT(std::string(error.what()).size(), 10u);
        }
    }
    EXPECT_GT(refused, 300); // the scrambling does break things,
    EXPECT_GT(taken, 3);     // and not everything
}

void readWhole(const std::string &bytes, const char *name)
{
    static const test::TemporaryFolder folder;
    Progress progress;
    const Capture capture = readCapture(folder.write(name, bytes), {}, progress);
    ASSERT_LE(capture.columns.size() * std::size_t(capture.axis.count), bytes.size());
    for (const Waveform &column : capture.columns) {
        std::vector<double> values(std::size_t(column.count));
        column.read(0, values);
        for (const double v : values) ASSERT_FALSE(std::isinf(v));
    }
}

} // namespace

TEST(HostileFiles, GoodOnesAreGood)
{
    EXPECT_NO_THROW(readWhole(array, "a.npy"));
    EXPECT_NO_THROW(readWhole(table, "a.csv"));
    EXPECT_NO_THROW(parseDocument(project, "p"));
    EXPECT_NO_THROW(parseMask(mask, "m"));
}

TEST(HostileFiles, Arrays)
{
    throwAt(array, [](const std::string &bytes) { readWhole(bytes, "a.npy"); });
}

TEST(HostileFiles, Tables)
{
    throwAt(table, [](const std::string &bytes) { readWhole(bytes, "a.csv"); });
}

/// Each of the other formats' files, scrambled. Those that a library reads take a process each.
TEST(HostileFiles, ForeignFiles)
{
    static const test::TemporaryFolder folder;
    folder.write("a.sigmf-data", std::string(400, 'x'));
    for (const auto &entry : std::filesystem::directory_iterator(FULVEX_FIXTURES)) {
        const std::string good = test::readAll(entry.path()), ending = entry.path().extension();
        if (ending == ".py" || ending == ".sigmf-data" || ending == ".raw") continue;
        const bool slow = ending == ".mat" || ending == ".h5";
        std::mt19937_64 random(good.size());
        int refused = 0;
        for (int round = 0; round < (slow ? 25 : 500); ++round) {
            Progress progress;
            try {
                const Capture capture = readCapture(folder.write("a" + ending, scrambled(good, random)), {}, progress);
                for (const Waveform &column : capture.columns) {
                    ASSERT_LE(column.count, 100000);
                    std::vector<double> values(static_cast<std::size_t>(column.count));
                    column.read(0, values);
                    for (const double v : values) ASSERT_FALSE(std::isinf(v));
                }
            } catch (const Error &error) {
                ++refused;
                ASSERT_GT(std::string(error.what()).size(), 10u);
            }
        }
        EXPECT_GT(refused, 0) << entry.path();
    }
}

/// What the fuzzers kept: inputs that go different ways through the readers.
TEST(HostileFiles, KeptInputs)
{
    static const test::TemporaryFolder folder;
    int inputs = 0;
    for (const auto &entry : std::filesystem::recursive_directory_iterator(FULVEX_CORPUS)) {
        const std::string kind = entry.path().parent_path().filename();
        if (!entry.is_regular_file() || kind == "engine") continue; // a fuzzer's choices, no file's bytes
        ++inputs;
        const std::string bytes = test::readAll(entry.path());
        try {
            if (kind == "project") {
                const Document document = parseDocument(bytes, "p");
                EXPECT_EQ(parseDocument(documentText(document), "q"), document);
                continue;
            }
            Progress progress;
            if (kind == "packed") {
                setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
                openProject(folder.write("a.fulvexpack", bytes), progress);
                continue;
            }
            ImportOptions options;
            options.format = kind;
            const Capture capture =
                readCapture(folder.write(kind == "sigmf" ? "a.sigmf-meta" : "a.in", bytes), options, progress);
            EXPECT_GT(capture.axis.count, 0) << entry.path();
        } catch (const Error &error) {
            EXPECT_GT(std::string(error.what()).size(), 10u) << entry.path();
        }
    }
    EXPECT_GT(inputs, 50);
}

TEST(HostileFiles, Projects)
{
    throwAt(project, [](const std::string &bytes) {
        const Document document = parseDocument(bytes, "p");
        EXPECT_EQ(parseDocument(documentText(document), "q"), document); // what is taken can be saved and read again
    });
}

TEST(HostileFiles, Masks)
{
    throwAt(mask, [](const std::string &bytes) { parseMask(bytes, "m"); });
}
