#include "pyramid.h"
#include "signals.h"

#include <cmath>

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
        const auto columns = traceColumns(*source, pyramid, 654321 - width / 3, 654321 + width * 2 / 3, 700);
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
    const auto columns = traceColumns(*source, Pyramid::build(*source, progress), 0, 20000, 500);
    for (int c = 0; c < 500; ++c)
        EXPECT_EQ(columns[std::size_t(c)].low, bruteForce(values, c * 40, c * 40 + 40).low) << c;
}

TEST(Pyramid, GapsAreEmpty)
{
    const SourcePtr source = makeMemorySource(std::vector<double>(5000, NAN), 1);
    Progress progress;
    const Pyramid pyramid = Pyramid::build(*source, progress);
    EXPECT_TRUE(pyramid.whole().empty());
    EXPECT_TRUE(traceColumns(*source, pyramid, 0, 5000, 10)[3].empty());
}
