#include "signals.h"
#include "value_sums.h"

#include <array>
#include <gtest/gtest.h>
#include <vector>

namespace fulvex {
namespace {

/// Vectors against the plain version, of lengths around their width, from places that lie on no border of theirs, and
/// with values that are none.
TEST(ValueSums, AreThoseOfThePlainVersion)
{
    test::Gaussian noise(5);
    std::vector<double> values(2000);
    for (double &value : values) value = 3 + noise();
    for (const std::size_t none : {3u, 4u, 5u, 64u, 1000u, 1999u}) values[none] = NAN;
    const double *x = values.data();
    for (const std::size_t apart : {1u, 2u, 7u, 8u, 63u, 500u}) {
        const std::array<WeighedValues, 4> of{{{x, -1}, {x + apart, 3}, {x + 2 * apart, -3}, {x + 3 * apart, 1}}};
        for (const std::size_t terms : {1u, 2u, 3u, 4u}) {
            for (const std::size_t size : {0u, 1u, 2u, 3u, 7u, 8u, 9u, 15u, 16u, 17u, 31u, 33u, 500u}) {
                const std::span some = std::span(of).first(terms);
                const ValueSums found = sumsOf(some, size, 0.5), plain = plainSumsOf(some, size, 0.5);
                EXPECT_EQ(found.count, plain.count) << apart << " " << terms << " " << size;
                EXPECT_NEAR(found.sum, plain.sum, 1e-12 * double(size));
                EXPECT_NEAR(found.squares, plain.squares, 1e-12 * (1 + plain.squares));
                if (plain.count == 0) {
                    EXPECT_EQ(found.least, INFINITY);
                    EXPECT_EQ(found.most, -INFINITY);
                    continue;
                }
                EXPECT_NEAR(found.least, plain.least, 1e-13);
                EXPECT_NEAR(found.most, plain.most, 1e-13);
            }
        }
    }
}

} // namespace
} // namespace fulvex
