// What is wrong with a file is said with the file, the place and what would mend it.

#include "npy_header.h"
#include "read_file.h"

#include <cmath>
#include <cstring>

using namespace fulvex;

namespace {

std::string fixture(const char *name)
{
    return test::readAll(std::string(FULVEX_FIXTURES) + "/" + name);
}

std::string number(std::uint64_t value, int bytes)
{
    std::string text;
    for (int i = 0; i < bytes; ++i) text += char(value >> (8 * i));
    return text;
}

/// A RIFF file of its own: chunks as given.
std::string riff(const std::string &chunks)
{
    return "RIFF" + number(chunks.size() + 4, 4) + "WAVE" + chunks;
}

std::string formatChunk(int tag, int channels, int rate, int bits)
{
    return "fmt " + number(16, 4) + number(std::uint64_t(tag), 2) + number(std::uint64_t(channels), 2) +
           number(std::uint64_t(rate), 4) + number(std::uint64_t(rate * channels * bits / 8), 4) +
           number(std::uint64_t(channels * bits / 8), 2) + number(std::uint64_t(bits), 2);
}

std::string meta(const std::string &global, const std::string &captures = "[]")
{
    return R"({"global": {)" + global + R"(}, "captures": )" + captures + "}";
}

} // namespace

TEST(Audio, ChunksThatAreNotSamplesArePassedOver)
{
    const std::string list = "LIST" + number(5, 4) + "abcde" + std::string(1, '\0'); // odd length, padded
    const Capture capture =
        test::readBytes("a.wav", riff(list + formatChunk(1, 2, 1000, 16) + list + "data" + number(8, 4) +
                                      number(0x4000, 2) + number(0xC000, 2) + number(0, 2) + number(0x2000, 2)));
    ASSERT_EQ(capture.columns.size(), 2u);
    double values[2];
    capture.columns[0].read(0, values);
    EXPECT_EQ(values[0], 0.5);
    capture.columns[1].read(0, values);
    EXPECT_EQ(values[0], -0.5);
    EXPECT_EQ(values[1], 0.25);
    EXPECT_EQ(capture.axis.interval, 1e-3);
}

TEST(Audio, AnUnfinishedRecordingIsReadToItsEndWithARemark)
{
    const Capture capture =
        test::readBytes("a.wav", riff(formatChunk(1, 1, 1000, 16) + "data" + number(0, 4) + std::string(20, '\1')));
    EXPECT_EQ(capture.axis.count, 10);
    EXPECT_THAT(capture.remarks, testing::Contains(testing::HasSubstr("unfinished")));
}

TEST(Audio, TruncatedAndOddFilesAreRefused)
{
    const std::string good = fixture("16-bit.wav");
    EXPECT_THAT(test::errorReading("a.wav", good.substr(0, good.size() - 3)), testing::HasSubstr("truncated"));
    EXPECT_THAT(test::errorReading("a.wav", riff(formatChunk(1, 0, 1000, 16) + "data" + number(2, 4) + "ab")),
                testing::HasSubstr("a.wav"));
    EXPECT_THAT(test::errorReading("a.wav", riff("")), testing::HasSubstr("cannot be decoded"));
    EXPECT_THAT(test::errorReading("a.flac", "fLaC" + std::string(100, 'x')), testing::HasSubstr("cannot be decoded"));
}

TEST(Raw, AsksForWhatItNeeds)
{
    ImportOptions options;
    options.format = "raw";
    EXPECT_THAT(test::errorReading("a.bin", "abcdef", options), testing::HasSubstr("give \"sample_type\""));
    options.sampleType = SampleType::f64;
    EXPECT_THAT(test::errorReading("a.bin", "abcdef", options), testing::HasSubstr("no sample of 1 channels in f64"));
    options.sampleType = SampleType::i16;
    options.headerBytes = 1;
    const Capture capture = test::readBytes("a.bin", "abcdef", options);
    EXPECT_EQ(capture.axis.count, 2);
    EXPECT_THAT(capture.remarks, testing::Contains(testing::HasSubstr("1 bytes at the end")));
    options.sampleType = SampleType::i24;
    options.bigEndian = true;
    EXPECT_THAT(test::errorReading("a.bin", "abcdef", options), testing::HasSubstr("little-endian only"));
    options = {};
    options.format = "raw";
    options.sampleType = SampleType::i8;
    for (const int channels : {0, -1, 5000}) {
        options.interleave = channels;
        EXPECT_THAT(test::errorReading("a.bin", "abcdef", options), testing::HasSubstr("give \"interleave\" within 1"));
    }
    options.interleave = 2;
    for (const std::int64_t header : {std::int64_t(-1), INT64_MIN}) {
        options.headerBytes = header;
        EXPECT_THAT(test::errorReading("a.bin", "abcdef", options),
                    testing::HasSubstr("\"header_bytes\" of 0 or more"));
    }
    options.headerBytes = INT64_MAX;
    EXPECT_THAT(test::errorReading("a.bin", "abcdef", options), testing::HasSubstr("no sample of 2 channels"));
}

TEST(Raw, ThreeByteSamplesHaveTheirSign)
{
    ImportOptions options;
    options.format = "raw";
    options.sampleType = SampleType::i24;
    const Capture capture = test::readBytes(
        "a.bin", number(0x7FFFFF, 3) + number(0x800000, 3) + number(0xFFFFFF, 3) + number(5, 3), options);
    double values[4];
    capture.columns[0].read(0, values);
    EXPECT_THAT(values, testing::ElementsAre(8388607, -8388608, -1, 5));
}

/// IEEE Std 488.2, 8.7.9: # digits length data.
TEST(Raw, ABlockSaysWhereItsDataAre)
{
    ImportOptions options;
    options.sampleType = SampleType::u8;
    const Capture capture = test::readBytes("a.bin", "#15abcde\n", options);
    EXPECT_EQ(capture.format, "raw");
    EXPECT_EQ(capture.axis.count, 5);
    double first = 0;
    capture.columns[0].read(0, std::span(&first, 1));
    EXPECT_EQ(first, 'a');
    options.format = "raw";
    EXPECT_THAT(test::errorReading("a.bin", "#210abcde", options),
                testing::HasSubstr("should hold 10 bytes, but only 5 follow"));
    // A comment that begins alike is none.
    EXPECT_EQ(test::readBytes("a.csv", "#12 samples\nt,v\n0,1\n1,2\n2,1\n").format, "csv");
}

TEST(Sigmf, MetadataAreHeldToTheirWord)
{
    test::readFolder().write("m.sigmf-data", std::string(84, 'x'));
    const auto refused = [](const std::string &text) { return test::errorReading("m.sigmf-meta", text); };
    EXPECT_THAT(refused(meta(R"("core:datatype": "cx32_le")")), testing::HasSubstr("is not a type of samples"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "rx12_le")")), testing::HasSubstr("is not a type of samples"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "ri16")")), testing::HasSubstr("ri16_le"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "ri16_le", "core:num_channels": 0)")),
                testing::HasSubstr("num_channels"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "ri16_le", "core:sample_rate": "fast")")),
                testing::HasSubstr("is not a number"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "ri16_le")", R"([{"core:header_bytes": 90}])")),
                testing::HasSubstr("no sample of 1 channels"));
    EXPECT_THAT(refused(meta(R"("core:datatype": "ri16_le")", R"([{}, {"core:header_bytes": 4}])")),
                testing::HasSubstr("amid the samples"));
    EXPECT_THAT(refused(R"({"global": {"core:datatype": "ri16_le"})"), testing::HasSubstr("m.sigmf-meta"));
    EXPECT_THAT(test::errorReading("lone.sigmf-meta", meta(R"("core:datatype": "ri16_le")")),
                testing::HasSubstr("lone.sigmf-data"));
    const Capture capture = test::readBytes(
        "m.sigmf-meta", meta(R"("core:datatype": "ri16_be", "core:sample_rate": 1e6, "core:trailing_bytes": 40)",
                             R"([{"core:header_bytes": 4}, {"core:sample_start": 10}])"));
    EXPECT_EQ(capture.axis.count, 20);
    EXPECT_EQ(capture.sources.size(), 2u);
    EXPECT_THAT(capture.remarks, testing::Contains(testing::HasSubstr("segment 2")));
}

TEST(Npz, DamagedArchivesAreSaid)
{
    const std::string good = fixture("packed.npz");
    EXPECT_THAT(test::errorReading("a.npz", good.substr(0, good.size() / 2)), testing::HasSubstr("ZIP"));
    std::string flipped = good;
    flipped[60] = char(flipped[60] ^ 0x5A); // within the first array's packed bytes
    ImportOptions options;
    options.datasets = {"time"};
    EXPECT_THAT(test::errorReading("a.npz", flipped, options), testing::HasSubstr("\"time\""));
}

TEST(Unpacked, DamagedFilesOfLibrariesAreSaid)
{
    for (const char *name : {"level4.mat", "level5.mat", "level5-packed.mat", "chunked.h5"}) {
        const std::string good = fixture(name);
        for (const std::size_t share : {3, 5, 9}) // tenths of the file
            EXPECT_THAT(test::errorReading(std::string("a-") + name, good.substr(0, good.size() * share / 10)),
                        testing::HasSubstr(name))
                << share;
    }
    ImportOptions options;
    options.format = "hdf5";
    EXPECT_THAT(test::errorReading("a.h5", "nothing of the kind", options),
                testing::HasSubstr("cannot be opened as HDF5"));
    options.format = "mat";
    EXPECT_THAT(test::errorReading("a.mat", "nothing of the kind", options), testing::HasSubstr("a.mat"));
}

TEST(NpyHeader, IsAMultipleOf64BytesAndReadsBack)
{
    for (const std::int64_t samples : {1ll, 12ll, 123456789ll}) {
        for (const std::int64_t channels : {1, 2, 11}) {
            const std::string header = npyHeader("<i2", samples, channels);
            EXPECT_EQ(header.size() % 64, 0u);
            if (samples < 100) {
                const Capture capture =
                    test::readBytes("a.npy", header + std::string(std::size_t(2 * samples * channels), '\1'));
                EXPECT_EQ(std::int64_t(capture.columns.size()) * capture.axis.count, samples * channels);
            }
        }
    }
}
