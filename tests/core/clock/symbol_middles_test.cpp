// Symbols told without interpolation are those that it tells; at gaps and the record's ends none.

#include "signals.h"
#include "symbol_levels.h"
#include "symbol_middles.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

std::vector<std::uint8_t> byValues(const SampleSource &source, const UnitIntervalMap &map, std::int64_t first,
                                   std::size_t count, std::span<const double> thresholds)
{
    std::vector<double> middles(count);
    SymbolMiddles(source, map).values(first, middles);
    std::vector<std::uint8_t> symbols;
    for (const double value : middles)
        symbols.push_back(value == value ? std::uint8_t(symbolOf(value, thresholds)) : unknownSymbol);
    return symbols;
}

std::vector<std::uint8_t> decided(const SampleSource &source, const UnitIntervalMap &map, std::int64_t first,
                                  std::size_t count, std::span<const double> thresholds)
{
    std::vector<std::uint8_t> symbols(count);
    SymbolMiddles(source, map).symbols(first, thresholds, symbols);
    return symbols;
}

const std::vector<std::vector<double>> levelSets{
    {-0.4, 0.4}, {-0.6, 0.05, 0.55}, {-3, -1, 1, 3}, {0, 1, 2, 3, 4, 5, 6, 7}};

} // namespace

TEST(SymbolMiddles, AreDecidedAsInterpolationTells)
{
    for (const auto &levels : levelSets) {
        std::vector<double> thresholds;
        for (std::size_t i = 1; i < levels.size(); ++i) thresholds.push_back((levels[i - 1] + levels[i]) / 2);
        const double step = thresholds[0] - levels[0];
        for (const double samplesPerUi : {2.6, 4.0, 5.3, 7.9, 8.1, 31.7}) {
            for (const double noise : {0.0, 0.1, 0.4, 1.0}) { // the last closes the eye
                test::DataSpec spec;
                spec.levels = levels;
                spec.samplesPerUi = samplesPerUi;
                spec.unitIntervals = 3000;
                spec.noise = noise * step;
                spec.seed = std::uint64_t(100 * samplesPerUi + 10 * noise) + levels.size();
                const SourcePtr source = test::makeData(spec).source();
                const UnitIntervalMap map(source->axis(), spec.offset, samplesPerUi);
                // Beyond both ends as well.
                const auto symbols = decided(*source, map, -5, 3010, thresholds);
                EXPECT_EQ(symbols, byValues(*source, map, -5, 3010, thresholds))
                    << levels.size() << " levels, " << samplesPerUi << " samples, noise " << noise;
                EXPECT_EQ(symbols.front(), unknownSymbol);
                EXPECT_NE(symbols[10], unknownSymbol);
                EXPECT_EQ(symbols.back(), unknownSymbol);
            }
        }
    }
}

TEST(SymbolMiddles, AreThoseOfTheDataWhereTheEyeIsOpen)
{
    for (const auto &levels : levelSets) {
        std::vector<double> thresholds;
        for (std::size_t i = 1; i < levels.size(); ++i) thresholds.push_back((levels[i - 1] + levels[i]) / 2);
        test::DataSpec spec;
        spec.levels = levels;
        spec.samplesPerUi = 4.3;
        spec.noise = 0.1 * (thresholds[0] - levels[0]);
        const test::Data data = test::makeData(spec);
        const SourcePtr source = data.source();
        const auto symbols =
            decided(*source, UnitIntervalMap(source->axis(), spec.offset, spec.samplesPerUi), 0, 3900, thresholds);
        for (std::size_t i = 0; i < symbols.size(); ++i) ASSERT_EQ(int(symbols[i]), data.symbols[i]) << i;
    }
}

TEST(SymbolMiddles, BesideGapsFollowTheStraightLineAndInThemAreUnknown)
{
    for (const double samplesPerUi : {4.3, 9.0}) {
        test::DataSpec spec;
        spec.samplesPerUi = samplesPerUi;
        test::Data data = test::makeData(spec);
        std::fill(data.volts.begin() + 1000, data.volts.begin() + 1050, NAN);
        const SourcePtr source = data.source();
        const UnitIntervalMap map(source->axis(), spec.offset, samplesPerUi);
        const double thresholds[] = {0};
        const auto symbols = decided(*source, map, 0, 3900, thresholds);
        EXPECT_EQ(symbols, byValues(*source, map, 0, 3900, thresholds));
        std::int64_t unknown = 0;
        for (std::size_t i = 0; i < symbols.size(); ++i) {
            const double middle = map.positionOf(double(i) + 0.5);
            const bool inGap = middle > 999 && middle < 1050;
            ASSERT_EQ(symbols[i] == unknownSymbol, inGap) << i;
            unknown += inGap;
        }
        EXPECT_NEAR(double(unknown), 51 / samplesPerUi, 1);
    }
}

namespace {

/// As long as no memory holds: rising and falling every 40 samples, and the longest stretch read at once is known.
class EndlessSource : public SampleSource {
public:
    const TimeAxis &axis() const override { return m_axis; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        m_longest = std::max(m_longest, out.size());
        for (double &value : out) value = first++ / 40 % 2 == 0 ? -1 : 1;
    }
    bool mayHaveGaps() const override { return false; }
    std::size_t longest() const { return m_longest; }

private:
    TimeAxis m_axis{0, 1e-10, std::int64_t(1) << 40};
    mutable std::size_t m_longest = 0;
};

} // namespace

/// As of a clock that pauses: few unit intervals may lie far apart.
TEST(SymbolMiddles, AreReadOneByOneWhereTheyLieFarApart)
{
    const EndlessSource source;
    constexpr double late = 1e10; // unit intervals, from the tenth boundary to the next
    const auto numbers = std::make_shared<const BoundaryNumbers>(BoundaryNumbers{0, 10, 11, 30});
    RawVector<double> lates(4);
    for (std::size_t i = 0; i < 4; ++i) lates[i] = i < 2 ? 0 : late;
    const UnitIntervalMap map(source.axis(), 0, 40, numbers, lates, 0);
    const double thresholds[] = {0};
    const auto symbols = decided(source, map, 0, 20, thresholds);
    EXPECT_LT(source.longest(), std::size_t(1000));
    EXPECT_EQ(symbols, byValues(source, map, 0, 20, thresholds));
    for (std::size_t i = 0; i < 20; ++i) {
        if (i != 10) { // its middle lies within the pause
            EXPECT_EQ(int(symbols[i]), int(i < 10 ? i % 2 : (i + std::size_t(late)) % 2)) << i;
        }
    }
}
