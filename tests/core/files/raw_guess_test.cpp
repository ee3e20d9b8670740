#include "raw_guess.h"
#include "signals.h"

#include <cmath>
#include <cstring>

using namespace fulvex;

namespace {

template <typename T>
void append(std::string &bytes, double value, bool big)
{
    const T sample = T(value);
    char raw[sizeof(T)];
    std::memcpy(raw, &sample, sizeof(T));
    if (big) std::reverse(raw, raw + sizeof(T));
    bytes.append(raw, sizeof(T));
}

/// Two-level data with noise and limited rise, 20 samples a symbol, as some full scale of a type.
template <typename T>
std::string samples(double scale, bool big, int channels, std::uint64_t seed, double offset = 0)
{
    std::string bytes;
    std::vector<test::Data> data;
    for (int channel = 0; channel < channels; ++channel) {
        test::DataSpec spec;
        spec.samplesPerUi = 20;
        spec.unitIntervals = 600;
        spec.noise = 0.01;
        spec.edgeSigma = 2.5;
        spec.seed = seed + std::uint64_t(channel) * 17;
        data.push_back(test::makeData(spec));
    }
    for (std::size_t i = 0; i < data[0].volts.size(); ++i)
        for (int channel = 0; channel < channels; ++channel)
            append<T>(
                bytes,
                offset +
                    scale * data[std::size_t(channel)].volts[std::min(i, data[std::size_t(channel)].volts.size() - 1)],
                big);
    return bytes;
}

RawGuess best(const std::string &bytes)
{
    const auto guesses = guessRaw(std::as_bytes(std::span(bytes)), 3);
    EXPECT_EQ(guesses.size(), 3u);
    return guesses.empty() ? RawGuess{} : guesses[0];
}

void expect(const std::string &bytes, SampleType type, bool big, int channels, std::int64_t header = 0)
{
    const RawGuess guess = best(bytes);
    EXPECT_EQ(guess.options.format, "raw");
    EXPECT_EQ(guess.options.sampleType, type)
        << sampleTypeName(*guess.options.sampleType) << " for " << sampleTypeName(type);
    EXPECT_EQ(guess.options.bigEndian == big || sampleSize(type) == 1, true);
    EXPECT_EQ(guess.options.interleave, channels) << sampleTypeName(type);
    EXPECT_EQ(guess.options.headerBytes, header);
}

} // namespace

TEST(RawGuess, FindsTypeOrderAndChannelsOfWhatWasCaptured)
{
    for (const std::uint64_t seed : {1, 2, 3}) {
        for (const int channels : {1, 2, 4}) {
            for (const bool big : {false, true}) {
                expect(samples<std::int16_t>(20000, big, channels, seed), SampleType::i16, big, channels);
                expect(samples<std::int32_t>(1.5e9, big, channels, seed), SampleType::i32, big, channels);
                expect(samples<float>(0.8, big, channels, seed), SampleType::f32, big, channels);
                expect(samples<double>(0.8, big, channels, seed), SampleType::f64, big, channels);
            }
            expect(samples<std::int8_t>(100, false, channels, seed), SampleType::i8, false, channels);
            expect(samples<std::uint8_t>(100, false, channels, seed, 128), SampleType::u8, false, channels);
        }
        expect(samples<std::uint16_t>(20000, true, 1, seed, 32768), SampleType::u16, true, 1);
    }
}

TEST(RawGuess, TakesWhatIsReadableForAHeader)
{
    const std::string bytes = samples<std::int16_t>(20000, false, 1, 5);
    expect("BRACKWATER 7, 8 GS/s\r\n" + bytes, SampleType::i16, false, 1, 22);
    std::string padded = "BRACKWATER 7, 8 GS/s\n";
    padded.resize(512);
    expect(padded + bytes, SampleType::i16, false, 1, 512);
}

TEST(RawGuess, OfWhatIsNoSignalThereIsNone)
{
    EXPECT_TRUE(guessRaw({}, 3).empty());
    const std::string zeros(4096, '\0'), few = "abc";
    EXPECT_TRUE(guessRaw(std::as_bytes(std::span(zeros)), 3).empty());
    EXPECT_TRUE(guessRaw(std::as_bytes(std::span(few)), 3).empty());
    std::string noise; // something is offered, and it says how rough it is
    test::Gaussian random(3);
    for (int i = 0; i < 5000; ++i) noise += char(int(random() * 40));
    const auto guesses = guessRaw(std::as_bytes(std::span(noise)), 3);
    ASSERT_EQ(guesses.size(), 3u);
    EXPECT_GT(guesses[0].roughness, 1);
}
