#include "channel_source.h"
#include "pyramid.h"
#include "signals.h"

#include <cmath>
#include <cstring>

using namespace fulvex;

namespace {

Extent bruteForce(const std::vector<double> &values, std::int64_t first, std::int64_t last)
{
    Extent extent{INFINITY, -INFINITY};
    for (std::int64_t i = first; i < std::min<std::int64_t>(last, std::int64_t(values.size())); ++i) {
        extent.low = std::min(extent.low, float(values[std::size_t(i)]));
        extent.high = std::max(extent.high, float(values[std::size_t(i)]));
    }
    return extent;
}

std::vector<double> noise(std::size_t count)
{
    test::Gaussian random(9);
    std::vector<double> values;
    for (std::size_t i = 0; i < count; ++i) values.push_back(random());
    return values;
}

} // namespace

TEST(Pyramid, ExtentsAreThoseOfTheSamples)
{
    const std::vector<double> values = noise(500123);
    Progress progress;
    const Pyramid pyramid = Pyramid::build(*makeMemorySource(values, 1), progress);
    test::Gaussian random(4);
    for (int trial = 0; trial < 300; ++trial) {
        const auto a = std::int64_t(random.uniform() * 500123), b = std::int64_t(random.uniform() * 500123);
        const std::int64_t first = std::min(a, b), last = std::max(a, b) + 1;
        const Extent expected = bruteForce(values, first / 256 * 256, (last + 255) / 256 * 256);
        const Extent found = pyramid.extent({first, last});
        EXPECT_EQ(found.low, expected.low) << first << " " << last;
        EXPECT_EQ(found.high, expected.high) << first << " " << last;
    }
    EXPECT_EQ(pyramid.whole().high, bruteForce(values, 0, 500123).high);
}

TEST(Pyramid, ASingleSpikeIsSeenAtEveryZoom)
{
    std::vector<double> values(1000000, 0.0);
    values[654321] = 7;
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    const Pyramid pyramid = Pyramid::build(*source, progress);
    for (const double width : {1e6, 3e5, 1e5, 5e4, 1e4, 900.0, 100.0, 20.0}) {
        const auto columns = traceColumns(*source, pyramid, 654321 - width / 3, 654321 + width * 2 / 3, 700).extents;
        float highest = 0;
        for (const Extent &column : columns) highest = column.empty() ? highest : std::max(highest, column.high);
        EXPECT_EQ(highest, 7) << width;
    }
}

TEST(Pyramid, ColumnsPartitionTheSamples)
{
    const std::vector<double> values = noise(20000);
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    const auto columns = traceColumns(*source, Pyramid::build(*source, progress), 0, 20000, 500).extents;
    for (int c = 0; c < 500; ++c)
        EXPECT_EQ(columns[std::size_t(c)].low, bruteForce(values, c * 40, c * 40 + 40).low) << c;
}

TEST(Pyramid, GapsAreEmpty)
{
    const SourcePtr source = makeMemorySource(std::vector<double>(5000, NAN), 1);
    Progress progress;
    const Pyramid pyramid = Pyramid::build(*source, progress);
    EXPECT_TRUE(pyramid.whole().empty());
    EXPECT_TRUE(traceColumns(*source, pyramid, 0, 5000, 10).extents[3].empty());
}

TEST(Pyramid, AScaledOneIsThatOfTheScaledSamples)
{
    std::vector<double> stored(100000);
    test::Gaussian gaussian(3);
    for (double &v : stored) v = std::round(3000 * gaussian()); // as 16-bit integers
    stored[500] = std::nan("");
    Progress progress;
    const Pyramid plain = Pyramid::build(*makeMemorySource(stored, 1), progress);
    for (const double scale : {1e-5, -0.37, 1e30}) {
        for (const double offset : {0.0, 12.345}) {
            std::vector<double> values = stored;
            for (double &v : values) v = v * scale + offset;
            const Pyramid expected = Pyramid::build(*makeMemorySource(values, 1), progress);
            const Pyramid scaled = plain.scaled(scale, offset);
            EXPECT_EQ(scaled.ground(), expected.ground()) << scale << " " << offset;
            EXPECT_EQ(scaled.whole(), expected.whole());
            EXPECT_EQ(scaled.extent({300, 9000}), expected.extent({300, 9000}));
            EXPECT_EQ(scaled.picks()[77], expected.picks()[77]);
        }
    }
}

TEST(Pyramid, ASketchIsOfEveryPlaceAndSaysSo)
{
    const std::vector<double> values = noise(3000000);
    const SourcePtr source = makeMemorySource(values, 1);
    const Pyramid sketch = Pyramid::sketch(*source);
    EXPECT_TRUE(sketch.isSketch());
    const std::int64_t base = sketch.base();
    EXPECT_EQ(base, 6 * 256);                                            // 11719 blocks at 2048 places
    const auto far = traceColumns(*source, sketch, 0, 3e6, 500).extents; // 6000 samples each: of every sixth block
    for (std::int64_t c = 0; c < 500; ++c) {
        Extent expected = Extent::nothing();
        for (std::int64_t block = c * 6000 / base; block * base < (c + 1) * 6000; ++block) {
            const Extent one = bruteForce(values, block * base, block * base + 256);
            expected = {std::min(expected.low, one.low), std::max(expected.high, one.high)};
        }
        EXPECT_EQ(far[std::size_t(c)], expected) << c;
    }
    const auto closer = traceColumns(*source, sketch, 0, 3e5, 600).extents; // 500 each: the first 256 of them
    for (std::int64_t c = 0; c < 600; ++c)
        EXPECT_EQ(closer[std::size_t(c)], bruteForce(values, c * 500, c * 500 + 256)) << c;
    const auto close = traceColumns(*source, sketch, 0, 6000, 600).extents; // all
    for (std::int64_t c = 0; c < 600; ++c)
        EXPECT_EQ(close[std::size_t(c)], bruteForce(values, c * 10, c * 10 + 10)) << c;
    const Pyramid shortOne = Pyramid::sketch(*makeMemorySource({1, 2, 3}, 1));
    EXPECT_EQ(shortOne.whole(), (Extent{1, 3}));
    EXPECT_TRUE(Pyramid::sketch(*makeMemorySource({}, 1)).whole().empty());
}

namespace {

/// The extents of typed samples as read() has them.
template <typename T>
void expectSameExtents(SampleType type, double scale)
{
    test::Gaussian random(std::uint64_t(int(type)) + 1);
    for (const std::size_t count : {1u, 7u, 255u, 256u, 257u, 1000u, 9000u}) {
        std::vector<T> stored(count + 1);
        for (T &v : stored) v = T(random.uniform() * 100);
        if constexpr (std::is_floating_point_v<T>) {
            for (std::size_t i = 0; i < count; i += 5) stored[i] = i % 2 ? T(NAN) : T(INFINITY);
        }
        for (const bool aligned : {true, false}) {
            std::vector<std::byte> bytes(stored.size() * sizeof(T) + 1);
            std::memcpy(bytes.data() + !aligned, stored.data(), stored.size() * sizeof(T));
            Waveform waveform;
            waveform.type = type;
            waveform.data = bytes.data() + !aligned;
            waveform.stride = sizeof(T);
            waveform.count = std::int64_t(count);
            const ChannelSource source(waveform, {0, 1, 0}, scale, 0.25, 0);
            std::vector<double> values(count);
            source.read(0, values);
            for (const std::int64_t block : {1, 16, 256}) {
                const std::size_t places = (count + std::size_t(block) - 1) / std::size_t(block);
                std::vector<Extent> found(places);
                source.extents({0, std::int64_t(count)}, block, found);
                for (std::size_t i = 0; i < places; ++i) {
                    const auto first = std::ptrdiff_t(i) * block;
                    const Extent expected = extentOf(std::span(values).subspan(
                        std::size_t(first), std::min<std::size_t>(std::size_t(block), count - std::size_t(first))));
                    ASSERT_EQ(found[i].empty(), expected.empty()) << sampleTypeName(type) << count << " " << i;
                    if (expected.empty()) continue;
                    EXPECT_EQ(found[i], expected) << sampleTypeName(type) << " " << count << " " << block << " " << i;
                }
            }
        }
    }
}

} // namespace

TEST(Extents, OfStoredSamplesAreThoseOfTheValuesForEveryTypeLengthAndSign)
{
    for (const double scale : {0.01, -3.0}) {
        expectSameExtents<std::int8_t>(SampleType::i8, scale);
        expectSameExtents<std::uint8_t>(SampleType::u8, scale);
        expectSameExtents<std::int16_t>(SampleType::i16, scale);
        expectSameExtents<std::uint16_t>(SampleType::u16, scale);
        expectSameExtents<std::int32_t>(SampleType::i32, scale);
        expectSameExtents<std::int64_t>(SampleType::i64, scale);
        expectSameExtents<float>(SampleType::f32, scale);
        expectSameExtents<double>(SampleType::f64, scale);
    }
}

/// Picks are samples, whatever the kind of source, some of each block; of a clock whose period divides a block they
/// show every phase alike.
TEST(Pyramid, PicksAreSamplesOfAllPhases)
{
    constexpr int period = 16, count = 1 << 19;
    std::vector<double> values;
    for (int i = 0; i < count + 100; ++i) values.push_back(i % period);
    const SourcePtr source = makeMemorySource(values, 1);
    Progress progress;
    const Pyramid pyramid = Pyramid::build(*source, progress);
    ASSERT_EQ(pyramid.picks().size(), pyramid.ground().size() * Pyramid::picked);
    const auto picks = pyramid.picks();
    std::vector<double> seen(period);
    for (std::size_t i = 0; i < std::size_t(count / 256 * Pyramid::picked); ++i) ++seen[std::size_t(picks[i])];
    // Of N independent picks each phase gets N / 16 within four standard deviations.
    const double expected = double(count) / 256 * Pyramid::picked / period;
    for (const double times : seen) EXPECT_NEAR(times, expected, 4 * std::sqrt(expected));
    EXPECT_EQ(pyramid.scaled(2, 1).picks()[5], 2 * picks[5] + 1);
    // A slow half and a fast half: a column's values are of its own samples.
    const TraceColumns columns = traceColumns(*source, pyramid, 0, count, 100);
    for (std::size_t c = 0; c < columns.size(); ++c) {
        EXPECT_GE(columns.valuesOf(c).size(), 50u);
        EXPECT_LE(columns.valuesOf(c).size(), 100u);
    }
    const TraceColumns close = traceColumns(*source, pyramid, 1000, 2000, 100);
    EXPECT_TRUE(close.inOrder);
    EXPECT_EQ(close.values.size(), 1000u);
    EXPECT_EQ(close.values[3], float((1000 + 3) % period));
}
