#include "channel_check.h"
#include "channel_source.h"
#include "pair_check.h"
#include "signals.h"

#include <cmath>
#include <limits>
#include <numbers>
#include <random>

using namespace fulvex;

namespace {

/// A channel of 16-bit counts.
CheckedChannel channelOf(const std::vector<double> &volts, double scale, double interval, const std::string &id = "a",
                         double delay = 0)
{
    auto counts = std::make_shared<std::vector<std::int16_t>>();
    for (const double v : volts) counts->push_back(std::int16_t(std::clamp(std::round(v / scale), -32768.0, 32767.0)));
    CheckedChannel channel;
    channel.id = id;
    channel.unit = "V";
    channel.stored.type = SampleType::i16;
    channel.stored.stride = 2;
    channel.stored.data = reinterpret_cast<const std::byte *>(counts->data());
    channel.stored.count = std::int64_t(counts->size());
    channel.stored.owner = counts;
    channel.stored.unit = "V";
    const TimeAxis axis{0, interval, channel.stored.count};
    channel.source = std::make_shared<ChannelSource>(channel.stored, axis, scale, 0, delay);
    Progress progress;
    channel.survey = std::make_shared<AmplitudeSurvey>(surveyAmplitudes(*channel.source, {0, axis.count}, progress));
    return channel;
}

CheckedChannel floatChannel(std::vector<double> volts, double interval)
{
    CheckedChannel channel;
    channel.id = "f";
    channel.unit = "V";
    channel.stored = makeWaveform("f", volts);
    channel.stored.unit = "V";
    channel.source = makeMemorySource(std::move(volts), interval);
    Progress progress;
    channel.survey = std::make_shared<AmplitudeSurvey>(
        surveyAmplitudes(*channel.source, {0, channel.source->axis().count}, progress));
    return channel;
}

std::vector<double> sine(int samples, double perCycle, double amplitude, double noise, std::uint64_t seed = 1)
{
    std::mt19937_64 random(seed);
    std::normal_distribution<double> gauss(0, noise);
    std::vector<double> volts;
    for (int i = 0; i < samples; ++i)
        volts.push_back(amplitude * std::sin(2 * std::numbers::pi * i / perCycle) + (noise > 0 ? gauss(random) : 0));
    return volts;
}

std::vector<std::string> checksOf(const std::vector<Finding> &findings)
{
    std::vector<std::string> names;
    for (const Finding &finding : findings) names.push_back(finding.check);
    return names;
}

std::vector<Finding> check(const CheckedChannel &channel)
{
    Progress progress;
    return checkChannel(channel, progress);
}

/// Random data with edges by a raised cosine, `edge` samples from level to level, and a copy turned round and shifted.
std::vector<double> data(int symbols, double perSymbol, double edge, double shift, double noise, double amplitude,
                         std::uint64_t seed)
{
    std::mt19937_64 bits(99), random(seed);
    std::normal_distribution<double> gauss(0, noise);
    std::vector<int> symbol;
    for (int i = 0; i < symbols; ++i) symbol.push_back(bits() & 1 ? 1 : -1);
    std::vector<double> volts;
    for (int k = 0; k < int(symbols * perSymbol); ++k) {
        const double at = (k - shift) / perSymbol;
        const int n = std::clamp(int(std::floor(at + 0.5)), 1, symbols - 1);
        const double share = std::clamp((at - n) * perSymbol / edge + 0.5, 0.0, 1.0);
        const double rise = (1 - std::cos(std::numbers::pi * share)) / 2;
        const double before = symbol[std::size_t(n - 1)], after = symbol[std::size_t(n)];
        volts.push_back(amplitude * (before + (after - before) * rise) + gauss(random));
    }
    return volts;
}

} // namespace

TEST(CaptureCheck, ACleanChannelHasNoFindings)
{
    for (const double noise : {0.0, 0.001, 0.02})
        EXPECT_EQ(checksOf(check(channelOf(sine(100000, 250, 0.9, noise), 1.0 / 32000, 1e-9))),
                  std::vector<std::string>{})
            << noise;
    EXPECT_EQ(checksOf(check(channelOf(data(5000, 20, 8, 0, 0.01, 0.8, 5), 1.0 / 32000, 1e-9))),
              std::vector<std::string>{});
}

/// Clipped at a share of the amplitude, at the type's limits or below them: the samples at the ends are known by
/// analysis, a share of 1 - 2 asin(clip) / pi of a sine.
TEST(CaptureCheck, ClippingIsFoundWithItsShareAndPlace)
{
    for (const double clip : {0.7, 0.9}) {
        for (const bool atLimit : {true, false}) {
            auto volts = sine(200000, 250.3, 1, 0.002);
            for (double &v : volts) v = std::clamp(v, -clip, clip);
            const auto findings = check(channelOf(volts, clip / (atLimit ? 32767 : 20000), 1e-9));
            int clipped = 0;
            for (const Finding &finding : findings) {
                if (finding.check != "clipping") continue;
                ++clipped;
                const double each = 0.5 - std::asin(clip) / std::numbers::pi;
                EXPECT_NEAR(std::stod(finding.text) / 200000, each, 0.01) << finding.text;
                EXPECT_EQ(finding.level, "warning");
                ASSERT_TRUE(finding.from);
                const double v = volts[std::size_t(std::llround(*finding.from / 1e-9))];
                EXPECT_NEAR(std::abs(v), clip, 1e-4);
            }
            EXPECT_EQ(clipped, 2) << clip << atLimit;
        }
    }
}

/// A signal that comes to rest is not clipped: exponential edges without noise end in flat runs too.
TEST(CaptureCheck, ASignalAtRestIsNotClipped)
{
    std::vector<double> volts;
    double v = 0;
    for (int i = 0; i < 100000; ++i) {
        v += ((i / 500 % 2 ? 1.0 : -1.0) - v) / 12;
        volts.push_back(v);
    }
    EXPECT_THAT(checksOf(check(channelOf(volts, 1.0 / 30000, 1e-9))), testing::Not(testing::Contains("clipping")));
}

TEST(CaptureCheck, ASmallPartOfTheRangeIsTold)
{
    EXPECT_EQ(checksOf(check(channelOf(sine(10000, 250, 0.3, 0), 1.0 / 32767, 1e-9))),
              std::vector<std::string>{"range"});
    EXPECT_EQ(checksOf(check(channelOf(sine(10000, 250, 0.6, 0), 1.0 / 32767, 1e-9))), std::vector<std::string>{});
}

/// 10 % to 90 % of a raised cosine take 0.59 of its length.
TEST(CaptureCheck, FewSamplesAnEdgeAreTold)
{
    const auto slow = check(channelOf(data(3000, 20, 10, 0, 0, 0.8, 1), 1.0 / 32000, 1e-9));
    EXPECT_EQ(checksOf(slow), std::vector<std::string>{});
    const auto fast = check(channelOf(data(3000, 20, 5, 0, 0, 0.8, 1), 1.0 / 32000, 1e-9));
    ASSERT_EQ(checksOf(fast), std::vector<std::string>{"edge_samples"});
    // 0.59 * 5, on straight lines between samples up to a quarter of a sample more.
    EXPECT_NEAR(std::stod(fast[0].text.substr(fast[0].text.find("take ") + 5)), 3.08, 0.2) << fast[0].text;
    ASSERT_TRUE(fast[0].from && fast[0].to);
    EXPECT_NEAR(*fast[0].to - *fast[0].from, 3.08e-9, 0.3e-9);
    EXPECT_THAT(fast[0].text, testing::Not(testing::HasSubstr("jitter")));
    const auto step = check(channelOf(data(3000, 20.3, 0.5, 0, 0, 0.8, 1), 1.0 / 32000, 1e-9));
    ASSERT_EQ(checksOf(step), std::vector<std::string>{"edge_samples"});
    EXPECT_THAT(step[0].text, testing::HasSubstr("instants stray")) << step[0].text;
}

TEST(CaptureCheck, GapsAreCountedPlacedAndLeftOutByARegion)
{
    auto volts = sine(50000, 250, 0.9, 0);
    for (int i = 1000; i < 1100; ++i) volts[std::size_t(i)] = std::numeric_limits<double>::quiet_NaN();
    volts[40000] = std::numeric_limits<double>::quiet_NaN();
    const auto findings = check(floatChannel(volts, 1e-9));
    ASSERT_EQ(checksOf(findings), std::vector<std::string>{"gaps"});
    EXPECT_THAT(findings[0].text, testing::StartsWith("101 of 50000"));
    EXPECT_NEAR(*findings[0].from, 1000e-9, 1e-15);
    EXPECT_NEAR(*findings[0].to, 1100e-9, 1e-15);
    ASSERT_TRUE(findings[0].remedy);
    EXPECT_EQ(findings[0].remedy->kind, Remedy::Kind::region);
    EXPECT_NEAR(findings[0].remedy->from, 1100e-9, 1e-15);
    EXPECT_NEAR(findings[0].remedy->to, 39999e-9, 1e-15);
}

/// A tone at the mains frequency under a faster signal: its amplitude to what the window and the block means take off,
/// 1 - (pi f T)^2 / 6 of 4 parts in a thousand at 50 Hz and 1 ms.
TEST(CaptureCheck, MainsHumIsFoundByItsFrequencyAndSize)
{
    for (const double frequency : {50.0, 60.0, 100.0}) {
        auto volts = sine(400000, 37.7, 0.8, 0.01);
        for (std::size_t i = 0; i < volts.size(); ++i)
            volts[i] += 0.05 * std::sin(2 * std::numbers::pi * frequency * double(i) * 1e-6);
        const CheckedChannel channel = channelOf(volts, 1.0 / 32000, 1e-6);
        Progress progress;
        const auto hum = mainsHum(*channel.source, channel.survey->stats.mean, progress);
        ASSERT_TRUE(hum);
        EXPECT_EQ(hum->frequency, frequency);
        EXPECT_NEAR(hum->amplitude, 0.05, 0.05 * 0.03);
        EXPECT_THAT(checksOf(check(channel)), testing::Contains("hum"));
    }
    const CheckedChannel clean = channelOf(sine(400000, 37.7, 0.8, 0.01), 1.0 / 32000, 1e-6);
    EXPECT_THAT(checksOf(check(clean)), testing::Not(testing::Contains("hum")));
    Progress progress;
    EXPECT_FALSE(mainsHum(*channelOf(sine(1000, 37.7, 0.8, 0.01), 1.0 / 32000, 1e-6).source, 0, progress)); // 1 ms
}

TEST(CaptureCheck, AMissingUnitIsTold)
{
    CheckedChannel channel = channelOf(sine(10000, 250, 0.9, 0), 1.0 / 32000, 1e-9);
    channel.unitStated = false;
    EXPECT_EQ(checksOf(check(channel)), std::vector<std::string>{"unit"});
    channel.unitStated = true; // by the user, or by the file
    EXPECT_EQ(checksOf(check(channel)), std::vector<std::string>{});
}

/// The instant of an edge scatters by noise over slope; the median of n pairs of them by 1.2533 sqrt(2) of that over
/// sqrt(n). Ours is within five of these.
TEST(PairCheck, SkewIsFoundToItsUncertainty)
{
    for (const double skew : {-3.3, 0.0, 0.8, 2.5}) {
        for (const double noise : {0.0, 0.01, 0.05}) {
            const auto p = channelOf(data(4000, 20, 8, 0, noise, 0.8, 1), 1.0 / 32000, 1e-10, "p");
            const auto n = channelOf(data(4000, 20, 8, skew, noise, -0.8, 2), 1.0 / 32000, 1e-10, "n");
            Progress progress;
            const auto match = matchLegs(p, n, progress);
            ASSERT_TRUE(match) << skew << " " << noise;
            const double slope = 0.8 * std::numbers::pi / 8; // V a sample, of the raised cosine
            const double sigma = 1.2533 * std::sqrt(2.0) * noise / slope / std::sqrt(double(match->edges)) * 1e-10;
            EXPECT_NEAR(match->skew, skew * 1e-10, 5 * sigma + 2e-13) << noise; // 2e-13: of the grid's sinc
            EXPECT_NEAR(match->skewUncertainty, sigma, 0.3 * sigma + 1e-14);
            EXPECT_NEAR(match->amplitudeRatio, 1, 0.01);
            const auto findings = checkPair(p, n, progress);
            const bool found = !findings.empty() && findings[0].check == "skew";
            EXPECT_EQ(found, std::abs(skew) > 0.24) << skew; // 5 % of 0.59 * 8 samples
            if (!found) continue;
            ASSERT_TRUE(findings[0].remedy);
            EXPECT_EQ(findings[0].remedy->channel, "n");
            EXPECT_NEAR(findings[0].remedy->value, -skew * 1e-10, 5 * sigma + 2e-13);
            // The remedy mends it.
            const auto mended =
                channelOf(data(4000, 20, 8, skew, noise, -0.8, 2), 1.0 / 32000, 1e-10, "n", findings[0].remedy->value);
            EXPECT_TRUE(checkPair(p, mended, progress).empty());
        }
    }
}

TEST(PairCheck, AmplitudesAndMiddlesThatDifferAreTold)
{
    const auto p = channelOf(data(4000, 20, 8, 0, 0.005, 0.8, 1), 1.0 / 32000, 1e-10, "p");
    auto low = data(4000, 20, 8, 0, 0.005, -0.6, 2);
    for (double &v : low) v += 0.5;
    const auto n = channelOf(low, 1.0 / 16000, 1e-10, "n");
    Progress progress;
    const auto findings = checkPair(p, n, progress);
    ASSERT_EQ(checksOf(findings), (std::vector<std::string>{"amplitude_mismatch", "offset_mismatch"}));
    EXPECT_NEAR(findings[0].remedy->value, 0.8 / 0.6, 0.01);
    EXPECT_NEAR(findings[1].remedy->value, -0.5, 0.01);
}

TEST(PairCheck, ChannelsThatAreNoPairAreLeftAlone)
{
    const auto p = channelOf(data(4000, 20, 8, 0, 0.005, 0.8, 1), 1.0 / 32000, 1e-10, "p");
    const auto same = channelOf(data(4000, 20, 8, 3, 0.005, 0.8, 2), 1.0 / 32000, 1e-10, "n"); // not turned round
    const auto other = channelOf(sine(80000, 33.3, 0.8, 0.01), 1.0 / 32000, 1e-10, "n");
    Progress progress;
    EXPECT_FALSE(matchLegs(p, same, progress));
    EXPECT_FALSE(matchLegs(p, other, progress));
    EXPECT_FALSE(matchLegs(p, channelOf(std::vector<double>(1000, 0.0), 1e-4, 1e-10), progress));
}
