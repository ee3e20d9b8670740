// The kernels of the fold, against the same sample by sample, by every instruction set and for lengths about a
// vector's.

#include "by_target.h"
#include "fold_kernels.h"
#include "nested_bins.h"
#include "some_phases.h"

#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <random>
#include <vector>

using namespace fulvex;

namespace {

constexpr std::size_t lengths[] = {1, 2, 3, 7, 8, 9, 15, 16, 17, 31, 33, 63, 64, 65, 127, 129, 1000};

} // namespace

TEST(FoldKernels, CellsAreThoseOfValuesAndPhases)
{
    test::byEachTarget([] {
        std::mt19937_64 random(13);
        std::normal_distribution<double> gauss;
        // Of the second scale all codes lie on borders of rows; by the last two too many rows for single precision.
        const std::pair<CodeScale, int> all[] = {{{3.7e-5, -0.01}, 256},
                                                 {{0x1p-15, 0}, 256},
                                                 {{-3.7e-5, 0.4}, 256},
                                                 {{3.7e-5, -300}, 256},
                                                 {{3.7e-5, 0}, 8192}};
        for (const auto &[scale, least] : all)
            for (const int columns : {128, 256, 300}) {
                const NestedBins rows = NestedBins::over(-1 + scale.offset, 1 + scale.offset, least);
                const FoldGrid grid{1 / rows.width(), double(rows.first), columns, rows.count};
                for (const std::size_t length : lengths) {
                    const auto phases = test::somePhases(random, length);
                    std::vector<std::int16_t> codes(length + lanePadding);
                    std::vector<double> values(length + lanePadding);
                    for (std::size_t i = 0; i < length; ++i) {
                        codes[i] =
                            std::int16_t(std::clamp(20000 * gauss(random), -32768.0, 32767.0)); // beyond the rows
                        values[i] = scale.valueOf(codes[i]);
                    }
                    std::vector<std::int32_t> ofCodes(length + lanePadding), ofValues(length + lanePadding),
                        ofWide(length + lanePadding), wide(length + lanePadding);
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
                std::vector<std::int16_t> codes(64 * words + lanePadding);
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
            std::vector<double> values(64 * words + lanePadding);
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
