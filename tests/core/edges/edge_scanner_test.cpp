#include "difficult_signal.h"
#include "edge_finder.h"
#include "edge_scanner.h"
#include "signals.h"

#include <cmath>
#include <numbers>
#include <random>
#include <utility>

using namespace fulvex;

namespace {

EdgeList scanned(const std::vector<double> &volts, CrossingLevel level, std::size_t block, bool plainly = false)
{
    EdgeScanner scanner(level, 0);
    EdgeList edges;
    for (std::size_t i = 0; i < volts.size(); i += block) {
        const auto part = std::span(volts).subspan(i, std::min(block, volts.size() - i));
        plainly ? scanner.feedPlainly(part, edges) : scanner.feed(part, edges);
    }
    return edges;
}

} // namespace

TEST(EdgeScanner, SineIsFoundWithinTheChordError)
{
    constexpr double step = 2 * std::numbers::pi / 64; // rad per sample
    std::vector<double> volts(640);                    // ten periods, from just after the trough on
    for (std::size_t i = 0; i < volts.size(); ++i) volts[i] = std::sin(step * (double(i) - 15.7));
    const EdgeList found = scanned(volts, crossingLevel(0, 0.2), 640);
    ASSERT_EQ(found.size(), 20u);
    for (std::size_t k = 0; k < 20; ++k) {
        EXPECT_NEAR(found.positions[k], 15.7 + 32.0 * double(k), step * step / 50) << k;
        EXPECT_EQ(found.isRising(k), k % 2 == 0);
    }
}

TEST(EdgeScanner, BlocksAndMasksChangeNoBit)
{
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        const std::vector<double> volts = test::difficult(3001, seed, seed % 2 == 0);
        for (const CrossingLevel level :
             {CrossingLevel{0, 0, 0}, CrossingLevel{0.1, -0.3, 0.5}, CrossingLevel{0, -2, 2}}) {
            const EdgeList plain = scanned(volts, level, 3001, true);
            for (const std::size_t block : {1, 2, 3, 63, 64, 65, 128, 1000, 3001}) {
                const EdgeList found = scanned(volts, level, block);
                ASSERT_EQ(found.positions, plain.positions) << seed << " " << block;
                ASSERT_EQ(found.flags, plain.flags) << seed << " " << block;
            }
        }
    }
}

/// Whatever the levels: on codes, between them, beyond all of them.
TEST(EdgeScanner, CodesChangeNoBit)
{
    std::mt19937 random(3);
    for (const CodeScale scale : {CodeScale{1, 0}, CodeScale{2e-5, 0.3}}) {
        std::vector<std::int16_t> codes(3001);
        int at = 0;
        for (std::int16_t &code : codes) {
            at = at * 4 / 5 + int(random() % 21) - 10;
            code = std::int16_t(at + (random() % 500 ? 0 : random() % 2 ? 32000 : -32000));
        }
        std::vector<double> volts;
        for (const std::int16_t code : codes) volts.push_back(scale.valueOf(code));
        const auto levels = [&](double mid, double bottom, double top) {
            return CrossingLevel{mid * scale.step + scale.offset, bottom * scale.step + scale.offset,
                                 top * scale.step + scale.offset};
        };
        for (const CrossingLevel level :
             {levels(0, 0, 0), levels(1, -3, 5), levels(0.5, -4.5, 4.25), levels(0, -40, 40), levels(0, -40000, 9),
              levels(0, -9, 40000), levels(-40000, -40000, -40000), levels(40000, 40000, 40000),
              levels(-32768, -32768, -32768), levels(32767, 32767, 32767)}) {
            const EdgeList plain = scanned(volts, level, 3001, true);
            for (const std::size_t block : {1, 63, 64, 65, 1000, 3001}) {
                EdgeScanner scanner(level, 0);
                EdgeList found;
                for (std::size_t i = 0; i < codes.size(); i += block)
                    scanner.feed(std::span(std::as_const(codes)).subspan(i, std::min(block, codes.size() - i)), scale,
                                 found);
                ASSERT_EQ(found.positions, plain.positions) << level.mid << " " << block;
                ASSERT_EQ(found.flags, plain.flags) << level.mid << " " << block;
            }
        }
        // Those of 17 bits, twice as far, and some behind each other of either kind.
        const CodeScale half{scale.step / 2, scale.offset, true};
        std::vector<std::int32_t> wide;
        for (const std::int16_t code : codes) wide.push_back(2 * code);
        for (const CrossingLevel level : {levels(0, 0, 0), levels(0.5, -4.5, 4.25), levels(0, -30000, 30000),
                                          levels(-32768, -32768, -32768), levels(40000, 40000, 40000)}) {
            const EdgeList plain = scanned(volts, level, 3001, true);
            for (const std::size_t block : {1, 63, 64, 65, 1000, 3001}) {
                EdgeScanner scanner(level, 0);
                EdgeList found;
                for (std::size_t i = 0; i < codes.size(); i += block) {
                    const std::size_t size = std::min(block, codes.size() - i);
                    if (i / block % 3 == 1)
                        scanner.feed(std::span(std::as_const(codes)).subspan(i, size), scale, found);
                    else
                        scanner.feed(std::span(std::as_const(wide)).subspan(i, size), half, found);
                }
                ASSERT_EQ(found.positions, plain.positions) << level.mid << " " << block;
                ASSERT_EQ(found.flags, plain.flags) << level.mid << " " << block;
            }
        }
    }
}

TEST(EdgeScanner, UnalignedSamplesToo)
{
    std::vector<double> volts = test::difficult(1025, 5, false);
    const EdgeList whole = scanned(volts, {0, -0.3, 0.3}, 2000);
    volts.insert(volts.begin(), 0);
    EdgeScanner scanner({0, -0.3, 0.3}, 0);
    EdgeList found;
    scanner.feed(std::span(volts).subspan(1), found);
    EXPECT_EQ(found.positions, whole.positions);
}

TEST(EdgeScanner, GapIsNotCrossed)
{
    const EdgeList found = scanned({-1, -1, NAN, 1, 1, -1, -1, 1}, {0, -0.5, 0.5}, 100);
    ASSERT_EQ(found.size(), 2u);
    EXPECT_FALSE(found.isRising(0));
    EXPECT_DOUBLE_EQ(found.positions[0], 4.5);
    EXPECT_TRUE(found.isAfterGap(0));
    EXPECT_FALSE(found.isAfterGap(1));
}

TEST(EdgeScanner, TheLastPassageWithinTheBandCounts)
{
    const EdgeList found = scanned({-1, 0.2, -0.2, 0.2, 1}, {0, -0.5, 0.5}, 100);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_DOUBLE_EQ(found.positions[0], 2.5);
}

TEST(EdgeScanner, ASampleOnTheLevelIsThePassage)
{
    const EdgeList found = scanned({-1, 0, 1, 0, -1}, {0, -0.5, 0.5}, 100);
    ASSERT_EQ(found.size(), 2u);
    EXPECT_EQ(found.positions[0], 1);
    EXPECT_EQ(found.positions[1], 3);
}

TEST(EdgeScanner, NothingFromNothing)
{
    EXPECT_EQ(scanned({}, {0, -1, 1}, 10).size(), 0u);
    EXPECT_EQ(scanned({5}, {0, -1, 1}, 10).size(), 0u);
    EXPECT_EQ(scanned(std::vector<double>(500, 0.0), {0, 0, 0}, 100).size(), 0u);
}

TEST(EdgeFinder, ChunksOnAllCoresChangeNoBit)
{
    for (const bool gaps : {false, true}) {
        std::vector<double> volts = test::difficult(700000, 8, gaps);
        for (std::size_t i = 120000; i < 290000; ++i) volts[i] = 0; // inside the band across a whole chunk
        const CrossingLevel level{0.05, -0.6, 0.7};
        Progress progress;
        const EdgeList found = findLinearEdges(*makeMemorySource(volts, 1), {0, 700000}, level, progress);
        const EdgeList plain = scanned(volts, level, 700000, true);
        EXPECT_EQ(found.positions, plain.positions);
        EXPECT_EQ(found.flags, plain.flags);
        EXPECT_EQ(progress.fraction(), 1);
    }
}
