// Files of other writers (tests/fixtures/make_fixtures.py), and round trips through ours.

#include "capture_writer.h"
#include "channel_source.h"
#include "read_file.h"

#include <cmath>
#include <cstring>
#include <limits>
#include <random>

using namespace fulvex;

namespace {

constexpr int count = 40;

double ramp(int i)
{
    return i * 37 % 101 - 50.0;
}

struct Fixture {
    const char *file, *format;
    double interval, start;         ///< s; interval 0: not stated
    std::vector<std::string> names; ///< p and n in the order of the columns; empty: p, n
    double scale = 1;               ///< what p and n are multiplied by in it
    double rounding = 0;            ///< of its samples
    ImportOptions options = {};
};

void PrintTo(const Fixture &fixture, std::ostream *out)
{
    *out << fixture.file;
}

ImportOptions rawOptions()
{
    ImportOptions options;
    options.format = "raw";
    options.sampleType = SampleType::i16;
    options.bigEndian = true;
    options.headerBytes = 16;
    options.interleave = 2;
    options.sampleInterval = 2e-9;
    return options;
}

ImportOptions only(std::vector<std::string> datasets)
{
    ImportOptions options;
    options.datasets = std::move(datasets);
    return options;
}

const Fixture fixtures[] = {
    {"two-arrays.npz", "npz", 2e-9, 0, {"p", "n"}},
    {"packed.npz", "npz", 2e-9, 1e-6, {"p", "n"}},
    {"two-columns.npz", "npz", 2e-9, 0, {"link[0]", "link[1]"}},
    {"16-bit.wav", "wav", 1 / 48e3, 0, {}, 1.0 / 64},
    {"24-bit.wav", "wav", 1 / 192e3, 0, {""}, 1.0 / 64},
    {"32-bit.wav", "wav", 1 / 96e3, 0, {}, 1.0 / 64},
    {"8-bit.wav", "wav", 1 / 8e3, 0, {""}, 1.0 / 128},
    {"float.wav", "wav", 1 / 44.1e3, 0, {}, 1.0 / 64},
    {"level4.mat", "mat", 2e-9, 0, {"p", "n"}},
    {"level5.mat", "mat", 2e-9, 1e-6, {"p", "n"}},
    {"level5-packed.mat", "mat", 2e-9, 0, {"p", "n"}},
    {"level5-matrix.mat", "mat", 2e-9, 0, {"link[0]", "link[1]"}},
    {"plain.h5", "hdf5", 2e-9, 0, {"p", "n"}, 1, 0, only({"p", "/n"})},
    {"chunked.h5", "hdf5", 2e-9, 1e-6, {"link[0]", "link[1]"}, 1e-3, 0.5e-3}, // halves are cut to whole numbers
    {"time.h5", "hdf5", 2e-9, 1e-6, {"ch1"}},
    {"rifx-16.wav", "wav", 1 / 48e3, 0, {}, 1.0 / 64},
    {"rifx-24.wav", "wav", 1 / 192e3, 0, {""}, 1.0 / 64},
    {"level4-big.mat", "mat", 2e-9, 0, {"p", "n"}},
    {"complex.mat", "mat", 2e-9, 0, {"z real", "z imaginary"}},
    {"cube.mat", "mat", 2e-9, 0, {"cube[0,0]", "cube[0,1]"}},
    {"complex.h5", "hdf5", 2e-9, 0, {"z real", "z imaginary"}, 1, 0, only({"z"})},
    {"cube.h5", "hdf5", 2e-9, 0, {"cube[0,0]", "cube[1,0]"}, 1, 0, only({"cube"})},
    {"complex.npy", "npy", 0, 0, {"real", "imaginary"}},
    {"cube.npy", "npy", 0, 0, {"[0,0]", "[1,0]"}},
    {"complex.npz", "npz", 2e-9, 0, {"z real", "z imaginary"}},
    {"complex.sigmf-meta", "sigmf", 2e-9, 0, {"real", "imaginary"}},
    {"header.raw", "raw", 2e-9, 0, {}, 2, 0, rawOptions()},
    {"block.bin", "raw", 0, 0, {""}},
    {"two-channels.sigmf-meta", "sigmf", 2e-9, 0, {}},
    {"two-channels.sigmf-data", "sigmf", 2e-9, 0, {}},
};

class ForeignFiles : public testing::TestWithParam<Fixture> {};

} // namespace

TEST_P(ForeignFiles, AreReadSampleBySample)
{
    const Fixture &fixture = GetParam();
    const Capture capture = test::readFile(std::string(FULVEX_FIXTURES) + "/" + fixture.file, fixture.options);
    EXPECT_EQ(capture.format, fixture.format);
    EXPECT_EQ(capture.intervalKnown, fixture.interval > 0);
    const double interval = fixture.interval > 0 ? fixture.interval : 1;
    EXPECT_NEAR(capture.axis.interval, interval, 1e-9 * interval);
    EXPECT_NEAR(capture.axis.start, fixture.start, 1e-15);
    ASSERT_EQ(capture.axis.count, count);
    const std::vector<std::string> names = fixture.names.empty() ? std::vector<std::string>{"", ""} : fixture.names;
    ASSERT_EQ(capture.columns.size(), names.size());
    for (std::size_t column = 0; column < names.size(); ++column) {
        EXPECT_EQ(capture.columns[column].name, names[column]);
        const std::vector<double> samples = test::samplesOf(capture, column);
        for (int i = 0; i < count; ++i) {
            const double truth = (column == 0 ? ramp(i) : -ramp(i) / 2) * fixture.scale;
            ASSERT_NEAR(samples[std::size_t(i)], truth, fixture.rounding + 1e-15) << column << " " << i;
        }
    }
}

INSTANTIATE_TEST_SUITE_P(All, ForeignFiles, testing::ValuesIn(fixtures), [](const auto &param) {
    std::string name = param.param.file;
    for (char &c : name) c = std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    return name;
});

/// What is packed comes out as what is stored plainly.
TEST(ForeignFiles, PackedArraysOfManyDimensionsAndOfComplexNumbersAreTheSame)
{
    const std::string folder = std::string(FULVEX_FIXTURES) + "/";
    const Capture complex = test::readFile(folder + "complex.h5", only({"packed"}));
    ASSERT_EQ(complex.columns.size(), 4u);
    EXPECT_EQ(complex.columns[3].name, "packed[1] imaginary");
    for (std::size_t column = 0; column < 4; ++column) {
        for (int i = 0; i < count; ++i)
            ASSERT_EQ(test::samplesOf(complex, column)[std::size_t(i)], column % 2 ? -ramp(i) / 2 : ramp(i)) << column;
    }
    const Capture cube = test::readFile(folder + "cube.h5", only({"packed"}));
    ASSERT_EQ(cube.columns.size(), 2u);
    EXPECT_EQ(cube.columns[1].name, "packed[1,0]");
    for (int i = 0; i < count; ++i) ASSERT_EQ(test::samplesOf(cube, 1)[std::size_t(i)], -ramp(i) / 2);
}

TEST(ForeignFiles, UnitsComeWithTheirAttributes)
{
    const Capture plain = test::readFile(std::string(FULVEX_FIXTURES) + "/plain.h5", only({"p"}));
    EXPECT_EQ(plain.columns[0].unit, "V");
    const Capture prefixed = test::readFile(std::string(FULVEX_FIXTURES) + "/chunked.h5");
    EXPECT_EQ(prefixed.columns[0].unit, "V"); // mV in the file
}

TEST(ForeignFiles, AnArrayThatIsNotThereIsNamedWithThoseThatAre)
{
    try {
        test::readFile(std::string(FULVEX_FIXTURES) + "/packed.npz", only({"q"}));
        FAIL();
    } catch (const Error &error) {
        EXPECT_STREQ(error.remedy().c_str(), "it has \"time\", \"p\", \"n\", \"short\"");
    }
    try {
        test::readFile(std::string(FULVEX_FIXTURES) + "/time.h5", only({"ch2"}));
        FAIL();
    } catch (const Error &error) {
        EXPECT_THAT(error.what(), testing::HasSubstr("\"/ch1\""));
    }
}

namespace {

/// Channels that are hard to write: all sizes of numbers, and gaps.
std::vector<WrittenChannel> hardChannels(std::int64_t samples, double interval, double start)
{
    std::mt19937_64 random(11);
    std::vector<WrittenChannel> channels;
    for (const char *name : {"p", "Link n"}) {
        std::vector<double> data(static_cast<std::size_t>(samples));
        for (double &value : data)
            value = std::ldexp(double(std::int64_t(random())), int(random() % 120) - 120) * (random() % 5 ? 1 : 0.1);
        data[3] = std::numeric_limits<double>::quiet_NaN();
        data[5] = std::numeric_limits<double>::denorm_min();
        channels.push_back({name, "V", makeMemorySource(std::move(data), interval, start)});
    }
    return channels;
}

class RoundTrip : public testing::TestWithParam<std::string> {};

} // namespace

TEST_P(RoundTrip, GivesTheSameBits)
{
    const std::string ending = GetParam();
    const test::TemporaryFolder folder;
    const double interval = ending == ".wav" ? 1.0 / 44100 : 1.25e-10 / 3;
    struct Case {
        SampleRange range;
        double start;
    };
    for (const auto &[range, start] :
         {Case{{0, 70000}, 1e-6 / 7}, Case{{2, 9}, 1e-6 / 7}, Case{{0, 500}, 1764057600.25}}) { // the last since 1970
        for (const std::size_t channels : {1u, 2u}) {
            const auto written = hardChannels(70000, interval, start);
            Progress progress;
            const std::string path = folder / ("file" + ending);
            writeCapture(path, std::span(written).first(channels), range, progress);
            EXPECT_EQ(progress.fraction(), 1);
            const Capture capture = test::readFile(path);
            ASSERT_EQ(capture.columns.size(), channels);
            ASSERT_EQ(capture.axis.count, range.size());
            const bool timed = ending != ".npy", started = timed && ending != ".wav";
            EXPECT_EQ(capture.axis.interval, timed ? interval : 1);
            EXPECT_EQ(capture.axis.start, started ? written[0].source->axis().timeOf(double(range.first)) : 0);
            std::vector<double> truth(std::size_t(range.size()));
            for (std::size_t channel = 0; channel < channels; ++channel) {
                written[channel].source->read(range.first, truth);
                const std::size_t column =
                    ending == ".h5" && channels == 2 ? 1 - channel : channel; // HDF5 orders by name
                const std::vector<double> samples = test::samplesOf(capture, column);
                for (std::size_t i = 0; i < truth.size(); ++i)
                    ASSERT_TRUE(samples[i] == truth[i] || (std::isnan(samples[i]) && std::isnan(truth[i])))
                        << i << ": " << samples[i] << " " << truth[i];
                if (ending == ".npy" || ending == ".wav") continue;
                EXPECT_EQ(capture.columns[column].name, written[channel].name);
                EXPECT_EQ(capture.columns[column].unit, "V");
            }
        }
    }
    // Nothing is left beside the file, and data that belong to it are the only other.
    for (const auto &entry : std::filesystem::directory_iterator(folder.path()))
        EXPECT_EQ(entry.path().stem(), "file") << entry.path();
}

INSTANTIATE_TEST_SUITE_P(All, RoundTrip, testing::Values(".csv", ".npy", ".wav", ".h5", ".sigmf-meta"),
                         [](const auto &param) {
                             return param.param == ".sigmf-meta" ? "sigmf" : param.param.substr(1);
                         });

TEST(CaptureWriter, RefusesWhatAFormatCannotSay)
{
    const test::TemporaryFolder folder;
    Progress progress;
    const auto refused = [&](const std::string &path, std::span<const WrittenChannel> channels, SampleRange range) {
        try {
            writeCapture(path, channels, range, progress);
        } catch (const Error &error) {
            EXPECT_FALSE(std::filesystem::exists(path));
            return std::string(error.what());
        }
        return std::string("written");
    };
    const auto fast = hardChannels(100, 1.25e-10, 0), odd = hardChannels(100, 1 / 44100.5, 0);
    EXPECT_THAT(refused(folder / "fast.wav", fast, {0, 100}), testing::HasSubstr("8.00000000 GS/s"));
    EXPECT_THAT(refused(folder / "odd.wav", odd, {0, 100}), testing::HasSubstr("whole sample rates"));
    EXPECT_THAT(refused(folder / "a.xyz", fast, {0, 100}), testing::HasSubstr(".sigmf-meta"));
    EXPECT_THAT(refused(folder / "a.csv", fast, {50, 50}), testing::HasSubstr("no sample"));
    const std::vector<WrittenChannel> mixed{fast[0], odd[1]};
    EXPECT_THAT(refused(folder / "a.csv", mixed, {0, 100}), testing::HasSubstr("same instants"));
    EXPECT_THAT(refused("/nowhere/a.npy", fast, {0, 100}), testing::HasSubstr("cannot be written"));
}

TEST(CaptureWriter, ACancelLeavesWhatWasThere)
{
    const test::TemporaryFolder folder;
    const auto channels = hardChannels(200000, 1e-9, 0);
    for (const CaptureWriter &writer : captureWriters()) {
        const std::string path = folder.write(std::string("kept") + writer.ending, "as it was");
        Progress progress;
        progress.cancel();
        EXPECT_THROW(writeCapture(path, channels, {0, 200000}, progress), std::exception) << writer.id;
        EXPECT_EQ(test::readAll(path), "as it was") << writer.id;
    }
}
