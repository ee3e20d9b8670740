// Bits of words, against the same bit by bit, by every instruction set.

#include "bit_list.h"
#include "by_target.h"
#include "symbol_words.h"

#include <gtest/gtest.h>
#include <random>

using namespace fulvex;

namespace {

using Words = std::vector<std::uint64_t>;

bool bitAt(const Words &words, std::size_t i)
{
    return words[i / 64] >> (i % 64) & 1;
}

/// A bit of so many set, on average; some words all or none.
Words someWords(std::mt19937_64 &random, std::size_t count, int sparse)
{
    Words words(count);
    for (std::uint64_t &word : words) {
        word = ~std::uint64_t(0);
        for (int k = 0; k < sparse; ++k) word &= random();
        if (random() % 9 == 0) word = 0;
        if (random() % 9 == 0) word = ~std::uint64_t(0);
    }
    return words;
}

std::vector<std::int32_t> placesOf(const Words &words)
{
    std::vector<std::int32_t> places;
    for (std::size_t i = 0; i < 64 * words.size(); ++i)
        if (bitAt(words, i)) places.push_back(std::int32_t(i));
    return places;
}

void expectPlain(std::uint64_t seed)
{
    std::mt19937_64 random(seed);
    for (const std::size_t count : {0, 1, 2, 3, 17}) {
        for (int sparse = 0; sparse < 5; ++sparse) {
            const Words at = someWords(random, count, sparse), from = someWords(random, count, 1);
            const std::vector<std::int32_t> places = placesOf(at);
            EXPECT_EQ(bitsOf(at), places.size());
            std::vector<std::int32_t> listed(64 * count + 16);
            listed.resize(listBits(at, listed.data()));
            EXPECT_EQ(listed, places);
            for (std::size_t i = 0; i < places.size(); i += 1 + places.size() / 7)
                EXPECT_EQ(placeOfBit(at, i), std::size_t(places[i]));
            for (const std::size_t first : {0, 1, 63, 64, 65}) {
                BitRow row;
                row.resize(first + places.size());
                for (std::size_t w = 0; w < (first + 63) / 64; ++w) row.words()[w] = 0x5555555555555555;
                gatherBits(from, at, first, row);
                for (std::size_t i = 0; i < first; ++i) ASSERT_EQ(row[i], i % 2 == 0) << i;
                for (std::size_t i = 0; i < places.size(); ++i)
                    ASSERT_EQ(row[first + i], bitAt(from, std::size_t(places[i]))) << i;

                Words spread(count);
                row.resize(row.size() + 1); // what stands behind the last place
                spreadBits(row, first, at, spread.data());
                std::size_t place = first;
                for (std::size_t i = 0; i < 64 * count; ++i) {
                    ASSERT_EQ(bitAt(spread, i), row[place]) << i;
                    place += bitAt(at, i);
                }
            }
        }
    }
}

} // namespace

TEST(SymbolWords, AreThePlainBits)
{
    test::byEachTarget([] {
        for (const std::uint64_t seed : {1, 2, 3}) expectPlain(seed);
    });
}

TEST(BitRow, GivesSixtyFourFromAnyPlace)
{
    std::mt19937_64 random(4);
    BitRow row;
    row.resize(300);
    for (std::size_t w = 0; w < 5; ++w) row.words()[w] = random();
    for (const std::size_t first : {0, 1, 31, 63, 64, 65, 127, 128, 200})
        for (std::size_t i = 0; i < 64; ++i) EXPECT_EQ(row.from(first) >> i & 1, row[first + i]) << first << " " << i;
}

TEST(SymbolWords, BytesAreComparedAndBitsAddedToThem)
{
    test::byEachTarget([] {
        std::mt19937_64 random(5);
        for (const std::size_t count : {64, 128, 640}) {
            std::vector<std::uint8_t> bytes(count);
            for (std::uint8_t &byte : bytes) byte = std::uint8_t(random() % 3 ? random() % 4 : 255);
            for (const int value : {0, 3, 255, 7}) {
                BitRow row;
                bitsEqual(bytes.data(), count, std::uint8_t(value), row);
                std::vector<std::uint8_t> sums = bytes;
                addBits(row, count, sums.data());
                for (std::size_t i = 0; i < count; ++i) {
                    ASSERT_EQ(row[i], bytes[i] == value) << i;
                    ASSERT_EQ(sums[i], std::uint8_t(bytes[i] + (bytes[i] == value))) << i;
                }
                for (std::size_t i = count; i < count + 64; ++i) ASSERT_FALSE(row[i]); // behind them
            }
        }
    });
}
