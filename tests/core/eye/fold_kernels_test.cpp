// The kernels of the fold, against the same sample by sample, by every instruction set and for lengths about a
// vector's.

#include "by_target.h"
#include "fold_kernels.h"
#include "nested_bins.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <random>
#include <vector>

using namespace fulvex;

namespace {

constexpr std::size_t lengths[] = {1, 2, 3, 7, 8, 9, 15, 16, 17, 31, 33, 63, 64, 65, 127, 129, 1000};

struct Line {
    std::int32_t number;
    double from, step;
};

/// Straight lines that follow each other, some of one unit interval and some of many, from a place in the record on.
std::vector<Line> someLines(std::mt19937_64 &random, double place, double samples, double step)
{
    std::vector<Line> lines;
    std::int32_t number = 0;
    for (double at = place; at < place + samples;) {
        const double own = step * (1 + 0.02 * std::normal_distribution<double>()(random));
        lines.push_back({number, at, std::max(1.01, own)});
        const auto unitIntervals = std::int32_t(random() % 4 ? 1 + random() % 3 : 1 + random() % 40);
        number += unitIntervals;
        at += unitIntervals * lines.back().step;
    }
    return lines;
}

/// Unit intervals behind the first boundary.
double plainPhase(const std::vector<Line> &lines, double position)
{
    std::size_t k = 0;
    while (k + 1 < lines.size() && lines[k + 1].from <= position) ++k;
    return lines[k].number + (position - lines[k].from) / lines[k].step;
}

std::vector<std::uint32_t> laid(const std::vector<Line> &lines, double origin, std::size_t samples)
{
    std::vector<std::int32_t> number;
    std::vector<double> from, step;
    for (const Line &line : lines) number.push_back(line.number), from.push_back(line.from), step.push_back(line.step);
    from.resize(from.size() + ClockLines::padding, 1e9);
    step.resize(step.size() + ClockLines::padding, 1);
    std::vector<std::uint32_t> phases(samples + foldPadding + 64);
    layPhases({number, from.data(), step.data(), origin}, samples, phases.data());
    return phases;
}

std::vector<std::uint32_t> somePhases(std::mt19937_64 &random, std::size_t count)
{
    std::vector<std::uint32_t> phases(count + foldPadding + 64);
    std::uint32_t at = std::uint32_t(random());
    for (std::uint32_t &phase : phases) phase = at, at += std::uint32_t(random() % ClockPhase::unitInterval);
    // And about where questions turn.
    for (const double turn : {0.0, 0.25, 0.4, 0.5, 0.6, 0.75})
        phases[random() % count] = std::uint32_t(turn * ClockPhase::unitInterval) + std::uint32_t(random() % 3) - 1;
    return phases;
}

} // namespace

TEST(FoldKernels, PhasesAreThoseOfTheLines)
{
    test::byEachTarget([] {
        std::mt19937_64 random(11);
        for (const double step : {1.1, 2.3, 4.0, 12.7, 40.2, 3000.0}) {
            for (const double place : {0.0, 1e3 + 0.37, 4e7 + 0.9}) {
                const std::vector<Line> lines = someLines(random, place, 5000, step);
                const double origin = std::ceil(place);
                const auto phases = laid(lines, origin, 5000);
                for (std::size_t i = 0; i < 5000; ++i) {
                    // As whole numbers wrap. A phase is a unit of 2^-28 off for a step's rounding over 16 samples,
                    // and half of one where it begins; positions far into a record have fewer digits.
                    const double exact = plainPhase(lines, origin + double(i)) * ClockPhase::unitInterval;
                    const auto off = std::int32_t(phases[i] - std::uint32_t(std::int64_t(std::llround(exact))));
                    ASSERT_LE(std::abs(off), 10 + place * 1e-15 * ClockPhase::unitInterval) << i << " of " << step;
                }
            }
        }
    });
}

TEST(FoldKernels, WordsAnswerForEachPhase)
{
    test::byEachTarget([] {
        std::mt19937_64 random(12);
        for (const std::size_t words : {1, 2, 5}) {
            const std::vector<std::uint32_t> phases = somePhases(random, 64 * words);
            std::vector<std::uint64_t> middles(words), behind(words), centre(words), edge(words);
            phaseWords(phases.data(), words, {middles.data(), behind.data(), centre.data(), edge.data()});
            for (std::size_t i = 0; i < 64 * words; ++i) {
                const auto bit = [&](const auto &row) { return bool(row[i / 64] >> (i % 64) & 1); };
                const auto rounded = [](std::uint32_t phase) { return (phase + ClockPhase::half) >> ClockPhase::bits; };
                const double phase = double(phases[i] & ClockPhase::within) / ClockPhase::unitInterval;
                EXPECT_EQ(bit(middles), rounded(phases[i]) != rounded(phases[i + 1]));
                EXPECT_EQ(bit(behind), phase >= 0.5);
                EXPECT_EQ(bit(edge), phase < 0.25 || phase >= 0.75);
                if (std::abs(phase - 0.4) > 1e-8 && std::abs(phase - 0.6) > 1e-8) { // which no such number is
                    EXPECT_EQ(bit(centre), phase >= 0.4 && phase < 0.6) << phase;
                }
            }
        }
    });
}

TEST(FoldKernels, CellsAreThoseOfValuesAndPhases)
{
    test::byEachTarget([] {
        std::mt19937_64 random(13);
        std::normal_distribution<double> gauss;
        for (const int columns : {128, 256, 300}) {
            const NestedBins rows = NestedBins::over(-1, 1, 256);
            const FoldGrid grid{1 / rows.width(), double(rows.first), columns, rows.count};
            const CodeScale scale{3.7e-5, -0.01};
            for (const std::size_t length : lengths) {
                const auto phases = somePhases(random, length);
                std::vector<std::int16_t> codes(length + foldPadding);
                std::vector<double> values(length + foldPadding);
                for (std::size_t i = 0; i < length; ++i) {
                    codes[i] = std::int16_t(std::clamp(20000 * gauss(random), -32768.0, 32767.0)); // beyond the rows
                    values[i] = scale.valueOf(codes[i]);
                }
                std::vector<std::int32_t> ofCodes(length + foldPadding), ofValues(length + foldPadding),
                    ofWide(length + foldPadding), wide(length + foldPadding);
                for (std::size_t i = 0; i < length; ++i) wide[i] = 2 * codes[i];
                foldCells(wide.data(), {scale.step / 2, scale.offset, true}, phases.data(), length, grid,
                          ofWide.data());
                foldCells(codes.data(), scale, phases.data(), length, grid, ofCodes.data());
                if (length > 5) values[length / 2] = std::numeric_limits<double>::quiet_NaN();
                foldCells(values.data(), phases.data(), length, grid, ofValues.data());
                for (std::size_t i = 0; i < length; ++i) {
                    const double row = std::floor(scale.valueOf(codes[i]) * grid.rowsPerUnit) - grid.firstRow;
                    const auto column =
                        std::uint64_t(phases[i] & ClockPhase::within) * std::uint64_t(columns) >> ClockPhase::bits;
                    const auto cell =
                        std::int32_t(std::clamp(row, 0.0, grid.rows - 1.0)) * columns + std::int32_t(column);
                    ASSERT_EQ(ofCodes[i], cell) << i << " of " << length;
                    ASSERT_EQ(ofWide[i], cell) << i << " of " << length;
                    ASSERT_EQ(ofValues[i], values[i] == values[i] ? cell : grid.rows * columns)
                        << i << " of " << length;
                }
            }
        }
    });
}

TEST(FoldKernels, SumsOfCodesAreExact)
{
    test::byEachTarget([] {
        std::mt19937_64 random(14);
        for (const std::size_t words : {0, 1, 2, 9, 2049, 4500}) {
            for (const bool extreme : {false, true}) {
                std::vector<std::int16_t> codes(64 * words + foldPadding);
                std::vector<std::int32_t> wide(codes.size());
                for (std::size_t i = 0; i < codes.size(); ++i) {
                    codes[i] = extreme ? std::int16_t(-32768) : std::int16_t(random());
                    wide[i] = 2 * codes[i];
                }
                std::vector<std::uint64_t> chosen(words);
                for (std::uint64_t &word : chosen) word = extreme ? ~std::uint64_t(0) : random() & random();
                CodeSums plain;
                for (std::size_t i = 0; i < 64 * words; ++i) {
                    if (!(chosen[i / 64] >> (i % 64) & 1)) continue;
                    ++plain.count;
                    plain.sum += codes[i];
                    plain.squares += std::int64_t(codes[i]) * codes[i];
                }
                const CodeSums sums = sumCodes(codes.data(), chosen), ofWide = sumCodes(wide.data(), chosen);
                EXPECT_EQ(sums.count, plain.count);
                EXPECT_EQ(sums.sum, plain.sum);
                EXPECT_EQ(sums.squares, plain.squares);
                EXPECT_EQ(ofWide.count, plain.count);
                EXPECT_EQ(ofWide.sum, 2 * plain.sum);
                EXPECT_EQ(ofWide.squares, 4 * plain.squares);
            }
        }
    });
}

/// In eight sums, whatever the vectors are.
TEST(FoldKernels, SumsOfValuesAreAddedInOneOrder)
{
    test::byEachTarget([] {
        std::mt19937_64 random(15);
        std::normal_distribution<double> gauss;
        for (const std::size_t words : {0, 1, 2, 300}) {
            std::vector<double> values(64 * words + foldPadding);
            for (double &value : values)
                value = random() % 50 ? 1e6 + gauss(random) : std::numeric_limits<double>::quiet_NaN();
            std::vector<std::uint64_t> chosen(words);
            for (std::uint64_t &word : chosen) word = random() & random();
            ValueSums plain;
            double sums[8] = {}, squares[8] = {};
            for (std::size_t i = 0; i < 64 * words; ++i) {
                if (values[i] != values[i]) chosen[i / 64] &= ~(std::uint64_t(1) << i % 64); // a gap is never chosen
                if (!(chosen[i / 64] >> (i % 64) & 1)) continue;
                ++plain.count;
                sums[i % 8] += values[i] - 1e6;
                squares[i % 8] += (values[i] - 1e6) * (values[i] - 1e6);
            }
            for (int lane = 0; lane < 8; ++lane) {
                plain.sum += sums[lane];
                plain.squares += squares[lane];
            }
            const ValueSums found = sumValues(values.data(), 1e6, chosen);
            EXPECT_EQ(found.count, plain.count);
            EXPECT_EQ(found.sum, plain.sum);
            EXPECT_EQ(found.squares, plain.squares);
        }
    });
}
