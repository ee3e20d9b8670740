// A record that is cut for many cores: the same bits as one scanner over all of it, and no looking back.

#include "edge_finder.h"
#include "edge_scanner.h"
#include "signals.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Blocks of samples that only say how many were read, so that looking back would be seen.
class Counting final : public SampleSource {
public:
    Counting(std::int64_t count, std::function<double(std::int64_t)> value) : m_value(std::move(value))
    {
        m_axis.count = count;
    }
    const TimeAxis &axis() const override { return m_axis; }
    bool mayHaveGaps() const override { return true; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        m_read += std::int64_t(out.size());
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = m_value(first + std::int64_t(i));
    }
    std::int64_t samplesRead() const { return m_read; }

private:
    TimeAxis m_axis;
    std::function<double(std::int64_t)> m_value;
    mutable std::atomic<std::int64_t> m_read = 0;
};

} // namespace

TEST(EdgeJoin, AnyCutGivesTheBitsOfOneScanner)
{
    const CrossingLevel level = crossingLevel(0, 0.4);
    test::Gaussian random(7);
    for (int round = 0; round < 30; ++round) {
        std::vector<double> volts(1000);
        double v = 0; // wanders in and out of the band, with gaps
        for (double &out : volts) {
            v = 0.97 * v + 0.12 * random();
            out = random.uniform() < 0.01 * (round % 3) ? NAN : v;
        }
        EdgeList whole;
        EdgeScanner(level, 0).feed(volts, whole);
        for (const std::size_t piece : {1, 2, 3, 63, 64, 65, 200}) {
            EdgeList joined;
            EdgeScanner::State state;
            for (std::size_t at = 0; at < volts.size(); at += piece) {
                const auto part = std::span(volts).subspan(at, std::min(piece, volts.size() - at));
                EdgeScanner scanner(level, std::int64_t(at), at ? volts[at - 1] : NAN);
                EdgeList edges;
                scanner.feed(part, edges);
                const bool gap = state.gap;
                const auto first = EdgeScanner::join(state, scanner, edges.size() > 0);
                const std::size_t begin = joined.size();
                if (first) {
                    joined.positions.push_back(first->position);
                    joined.flags.push_back(first->rising ? EdgeList::rising : 0);
                }
                joined.positions.insert(joined.positions.end(), edges.positions.begin(), edges.positions.end());
                joined.flags.insert(joined.flags.end(), edges.flags.begin(), edges.flags.end());
                if (gap && joined.size() > begin) joined.flags[begin] |= EdgeList::afterGap;
            }
            ASSERT_EQ(joined.positions, whole.positions) << round << " cut by " << piece;
            ASSERT_EQ(joined.flags, whole.flags) << round << " cut by " << piece;
        }
    }
}

TEST(EdgeJoin, ASignalThatRestsWithinTheBandIsReadOnce)
{
    // One pulse up and, 40 million samples later, one down; between them zeros, which lie on the level.
    constexpr std::int64_t count = 40'000'000;
    const Counting source(count, [](std::int64_t i) { return i < 10 ? -1.0 : i < 20 ? 1.0 : i < count - 10 ? 0.0 : -1.0; });
    Progress progress;
    const EdgeList edges = findLinearEdges(source, {0, count}, crossingLevel(0, 0.2), progress);
    ASSERT_EQ(edges.size(), 2u);
    EXPECT_EQ(edges.positions[0], 9.5);
    EXPECT_NEAR(edges.positions[1], double(count) - 11, 1); // the last passage of the level itself
    EXPECT_LT(source.samplesRead(), count + count / 100);
}
