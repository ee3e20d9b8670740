// Channels of whole numbers, and sums of two: as codes they are to the last bit what they are as values.

#include "channel_source.h"
#include "coded_channels.h"
#include "formula.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;
using test::codedChannel;

namespace {

/// How often a code fits, and that codes and values agree to the last bit wherever it is read from.
std::size_t fitting(const SampleSource &source)
{
    const auto scale = source.codeScale();
    EXPECT_TRUE(scale.has_value());
    if (!scale) return 0;
    EXPECT_FALSE(source.mayHaveGaps());
    const auto count = std::size_t(source.axis().count);
    std::vector<double> values(count);
    source.read(0, values);
    std::size_t fits = 0;
    for (const std::size_t block : {std::size_t(1), std::size_t(7), std::size_t(64), std::size_t(5000), count}) {
        fits = 0;
        for (std::size_t first = 0; first < count; first += block) {
            const std::size_t some = std::min(block, count - first);
            std::vector<std::int16_t> codes(some);
            std::vector<double> alone(some);
            source.read(std::int64_t(first), alone);
            EXPECT_TRUE(std::equal(alone.begin(), alone.end(), values.begin() + std::ptrdiff_t(first))) << block;
            if (scale->wide) {
                std::vector<std::int32_t> wide(some);
                source.readWideCodes(std::int64_t(first), wide);
                for (std::size_t i = 0; i < some; ++i)
                    EXPECT_EQ(scale->valueOf(wide[i]), values[first + i]) << block << " " << first + i;
            }
            if (!source.readCodes(std::int64_t(first), codes)) continue;
            fits += some;
            for (std::size_t i = 0; i < some; ++i)
                EXPECT_EQ(scale->valueOf(codes[i]), values[first + i]) << block << " " << first + i;
        }
    }
    return fits;
}

template <typename T>
std::vector<T> some(std::size_t count, int least, int most, std::uint64_t seed)
{
    std::mt19937_64 random(seed);
    std::vector<T> codes(count);
    for (T &code : codes) code = T(least + int(random() % std::uint64_t(most - least + 1)));
    return codes;
}

SourcePtr formula(const char *text, const SourcePtr &p, const SourcePtr &n)
{
    Progress progress;
    return Formula::parse(text).evaluate({[&](const std::string &id) { return id == "p" ? p : n; }, {}, {}}, progress);
}

} // namespace

TEST(Codes, AreWhatChannelsOfFewBitsHold)
{
    EXPECT_EQ(fitting(*codedChannel(some<std::int16_t>(6001, -32768, 32767, 1), 2e-5, 0.3)), 6001u);
    EXPECT_EQ(fitting(*codedChannel(some<std::int16_t>(6001, -32768, 32767, 2), -0.7, 0)), 6001u);
    EXPECT_EQ(fitting(*codedChannel(some<std::int8_t>(6001, -128, 127, 3), 1e-3, -2)), 6001u);
    EXPECT_EQ(fitting(*codedChannel(some<std::uint8_t>(6001, 0, 255, 4), 1e-3, 17)), 6001u);
    for (const std::size_t every : {2, 3, 4}) { // beside others in a file
        EXPECT_EQ(fitting(*codedChannel(some<std::int16_t>(6001, -999, 999, 5), 1, 0, every)), 6001u);
        EXPECT_EQ(fitting(*codedChannel(some<std::uint8_t>(6001, 0, 255, 5), 1, 0, every)), 6001u);
    }
    for (const std::size_t every : {1, 2, 3}) { // of another machine's byte order
        Waveform waveform;
        const auto stored = some<std::int16_t>(6001 * every, -32768, 32767, 6);
        waveform.type = SampleType::i16;
        waveform.swapped = true;
        waveform.data = reinterpret_cast<const std::byte *>(stored.data());
        waveform.stride = std::ptrdiff_t(2 * every);
        waveform.count = 6001;
        EXPECT_EQ(fitting(ChannelSource(waveform, TimeAxis{0, 1, 6001}, 1e-3, 0, 0)), 6001u);
    }
    for (const std::size_t every : {1, 3}) { // of 16 bits without a sign: wide ones alone
        const SourcePtr raised = codedChannel(some<std::uint16_t>(6001, 0, 65535, 6), 1e-4, -3.3, every);
        EXPECT_EQ(fitting(*raised), 0u);
        EXPECT_TRUE(raised->codeScale()->wide);
    }
    EXPECT_FALSE(codedChannel(std::vector<float>(10), 1, 0)->codeScale());
    EXPECT_FALSE(codedChannel(std::vector<std::int16_t>(10), 0, 1)->codeScale()); // all alike
    EXPECT_FALSE(codedChannel(std::vector<std::int16_t>(10), 1e305, 0)->codeScale());
}

TEST(Codes, OfTwoLegsAreAddedBeforeAnythingIsRounded)
{
    const auto a = some<std::int16_t>(9001, -16000, 16000, 7), b = some<std::int16_t>(9001, -16000, 16000, 8);
    const double step = 2.1e-5;
    const SourcePtr p = codedChannel(a, step, 0.25), n = codedChannel(b, step, -0.125);
    struct Case {
        const char *text;
        double ofP, ofN, constant; ///< by value
    };
    for (const Case &one :
         {Case{"p - n", 1, -1, 0}, Case{"p + n", 1, 1, 0}, Case{"n - p", -1, 1, 0},
          Case{"(p - n) / 2 + 0.1", 0.5, -0.5, 0.1}, Case{"-p - n", -1, -1, 0},
          Case{"3 * p - (p + n) * 0.5 - 2 * p - p / 2 + p", 1, -0.5, 0}, Case{"2 * p - 1", 2, 0, -1}}) {
        const SourcePtr made = formula(one.text, p, n);
        const bool alike = one.ofN == 0 || std::abs(one.ofP) == std::abs(one.ofN);
        EXPECT_EQ(made->codeScale().has_value(), alike) << one.text;
        std::vector<double> values(a.size());
        made->read(0, values);
        for (std::size_t i = 0; i < a.size(); ++i) {
            const double expected = one.ofP * (a[i] * step + 0.25) + one.ofN * (b[i] * step - 0.125) + one.constant;
            EXPECT_NEAR(values[i], expected, 8 * 2.3e-16 * 2) << one.text; // some roundings of numbers up to 2
        }
        if (alike) {
            EXPECT_EQ(fitting(*made), a.size()) << one.text;
        }
    }
}

TEST(Codes, ThatDoNotFit16BitsHaveOneMore)
{
    const auto all = some<std::int16_t>(5000, -32768, 32767, 9), others = some<std::int16_t>(5000, -32768, 32767, 10);
    std::vector<std::int16_t> a = all, b = others;
    std::fill(a.begin(), a.begin() + 4500, std::int16_t(100)); // the last of them alone leave the range
    std::fill(b.begin(), b.begin() + 4500, std::int16_t(-32668));
    const SourcePtr p = codedChannel(a, 0.5, 0), n = codedChannel(b, 0.5, 0);
    const SourcePtr sum = formula("p + n", p, n), difference = formula("p - n", p, n);
    EXPECT_EQ(fitting(*sum), 0u); // all at once
    EXPECT_EQ(fitting(*difference), 0u);
    std::vector<std::int16_t> whole(4500);
    EXPECT_TRUE(sum->readCodes(0, whole));
    std::vector<double> values(5000);
    difference->read(0, values);
    for (std::size_t i = 0; i < a.size(); ++i) EXPECT_EQ(values[i], 0.5 * (a[i] - b[i]));
    std::vector<std::int16_t> codes(1);
    EXPECT_FALSE(difference->readCodes(0, codes)); // 32768
    EXPECT_EQ(values[0], 16384);
}

/// Off by a whole sample, so that each sum is a term by itself; both leave 16 bits.
TEST(Codes, OfSumsOfSumsAreNone)
{
    const auto a = some<std::int16_t>(5000, -32768, 32767, 13), b = some<std::int16_t>(5000, -32768, 32767, 14);
    const auto leg = [](const std::vector<std::int16_t> &codes, double late) {
        return codedChannel(codes, 0.5, 0, 1, 1e-9, late);
    };
    const SourcePtr link = formula("p - n", leg(a, 0), leg(b, 0)), late = formula("p - n", leg(b, 3e-9), leg(a, 3e-9));
    const SourcePtr both = formula("p + n", link, late);
    EXPECT_FALSE(both->codeScale());
    std::vector<double> values(std::size_t(both->axis().count));
    ASSERT_EQ(values.size(), 4997u);
    both->read(0, values);
    for (std::size_t i = 0; i < values.size(); ++i) EXPECT_EQ(values[i], 0.5 * (a[i + 3] - b[i + 3] + b[i] - a[i]));
}

TEST(Codes, AreOfNothingElse)
{
    const SourcePtr p = codedChannel(some<std::int16_t>(100, -99, 99, 11), 1e-3, 0);
    const SourcePtr n = codedChannel(some<std::int16_t>(100, -99, 99, 12), 1.001e-3, 0);
    const SourcePtr f = codedChannel(std::vector<float>(100, 1.5f), 1e-3, 0);
    for (const char *text : {"p - n", "p * n", "p * p", "abs(p)", "p / n", "1 / p", "p * 0 + 1", "p > 0"})
        EXPECT_FALSE(formula(text, p, n)->codeScale()) << text;
    EXPECT_FALSE(formula("p - n", p, f)->codeScale());
    EXPECT_FALSE(formula("p - 0.999 * n", p, n)->codeScale()); // nearly alike
}

TEST(Codes, ScalesKnowTheFirstCodeAtALevel)
{
    for (const CodeScale scale : {CodeScale{1, 0}, CodeScale{2e-5, 0.3}, CodeScale{1e-3, -7}}) {
        for (const double at : {scale.valueOf(-32768), scale.valueOf(-5), scale.valueOf(0), scale.valueOf(32767)}) {
            for (const double level : {std::nextafter(at, -1e9), at, std::nextafter(at, 1e9)}) {
                const std::int32_t first = scale.firstAt(level), above = scale.firstAt(level, true);
                for (const std::int32_t code : {-32768, -6, -5, -4, -1, 0, 1, 32766, 32767}) {
                    EXPECT_EQ(code >= first, scale.valueOf(code) >= level);
                    EXPECT_EQ(code >= above, scale.valueOf(code) > level);
                }
            }
        }
    }
}
