#include "clock_symbols.h"
#include "error.h"
#include "signals.h"
#include "symbol_errors.h"

#include <algorithm>
#include <gmock/gmock.h>
#include <set>

using namespace fulvex;

namespace {

using Symbols = std::vector<std::uint8_t>;

/// By a shift register whose stages are written out, apart from the code under test.
Symbols prbs(int order, std::initializer_list<int> stages, std::size_t count, std::uint64_t seed = 1)
{
    std::vector<int> state(std::size_t(order), 0);
    for (int i = 0; i < order; ++i) state[std::size_t(i)] = (seed >> (i % 60)) & 1;
    state[0] = 1;
    Symbols symbols;
    for (std::size_t i = 0; i < count; ++i) {
        int sum = 0;
        for (const int stage : stages) sum ^= state[std::size_t(stage - 1)];
        symbols.push_back(std::uint8_t(sum));
        state.insert(state.begin(), sum);
        state.pop_back();
    }
    return symbols;
}

struct Known {
    int order;
    std::initializer_list<int> stages;
};
const Known known[] = {{7, {6, 7}},   {9, {5, 9}},    {11, {9, 11}},  {13, {1, 2, 12, 13}}, {15, {14, 15}},
                       {20, {3, 20}}, {20, {17, 20}}, {23, {18, 23}}, {29, {27, 29}},       {31, {28, 31}}};

Symbols inverse(Symbols symbols)
{
    for (std::uint8_t &symbol : symbols) symbol ^= 1;
    return symbols;
}

SymbolPattern pattern(const Symbols &symbols)
{
    Progress progress;
    return patternOf(symbols, progress);
}

SymbolErrors errors(const Symbols &symbols, const std::string &expected = "auto")
{
    Progress progress;
    return errorsOf(symbols, expectedBy(expected).value(), progress);
}

std::int64_t lengthOf(const Symbols &symbols)
{
    Progress progress;
    return patternLength(symbols, progress);
}

/// Errors at random places, none twice; of two symbols.
std::vector<std::int64_t> plant(Symbols &symbols, std::size_t count, std::uint64_t seed)
{
    test::Gaussian random(seed);
    std::set<std::int64_t> places;
    while (places.size() < count) places.insert(std::int64_t(random.uniform() * double(symbols.size())));
    for (const std::int64_t place : places) symbols[std::size_t(place)] ^= 1;
    return {places.begin(), places.end()};
}

} // namespace

TEST(PatternLength, IsFoundAlsoWithErrorsAndOfSeveralLevels)
{
    const auto sequence = [](std::size_t count) { return prbs(9, {5, 9}, count); };
    for (const std::size_t count : {1022u, 1500u, 20000u}) EXPECT_EQ(lengthOf(sequence(count)), 511) << count;
    Symbols wrong = sequence(10000);
    for (std::size_t i = 100; i < wrong.size(); i += 400) wrong[i] ^= 1; // 0.25 %, counted twice by each shift
    EXPECT_EQ(lengthOf(wrong), 511);
    EXPECT_EQ(lengthOf(sequence(1000)), 0); // less than twice
    Symbols random, four;
    test::Gaussian noise(4);
    for (int i = 0; i < 20000; ++i) random.push_back(noise() > 0);
    EXPECT_EQ(lengthOf(random), 0);
    EXPECT_EQ(lengthOf({}), 0);
    EXPECT_EQ(lengthOf(Symbols{0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1}), 2);
    // Of more than two: those above the lowest differ as well.
    for (int i = 0; i < 5000; ++i) four.push_back(std::array<std::uint8_t, 6>{0, 1, 2, 0, 3, 1}[std::size_t(i % 6)]);
    EXPECT_EQ(lengthOf(four), 6);
}

TEST(SymbolPatternKind, EveryPrbsIsToldByItsOrderAndPolarity)
{
    for (const Known &one : known) {
        for (const std::uint64_t seed : {1u, 77u, 991u}) {
            const Symbols plain = prbs(one.order, one.stages, 5000, seed);
            const SymbolPattern found = pattern(plain), turned = pattern(inverse(plain));
            EXPECT_EQ(found.kind, SymbolPattern::Kind::prbs) << one.order;
            EXPECT_EQ(found.order, one.order);
            EXPECT_FALSE(found.inverted) << one.order;
            EXPECT_EQ(found.length, (std::int64_t(1) << one.order) - 1);
            EXPECT_EQ(turned.order, one.order);
            EXPECT_TRUE(turned.inverted) << one.order;
        }
    }
    EXPECT_EQ(wordsOf(pattern(prbs(9, {5, 9}, 2000))), "PRBS 9");
    EXPECT_EQ(wordsOf(pattern(inverse(prbs(9, {5, 9}, 2000)))), "PRBS 9, inverted");
}

TEST(SymbolPatternKind, OthersAreWhatTheyAre)
{
    Symbols clock, word, random;
    test::Gaussian noise(9);
    for (int i = 0; i < 4000; ++i) {
        clock.push_back(i % 2);
        word.push_back((0b1110010 >> (i % 7)) & 1); // as long as a PRBS of order 3, which is none of those named
        random.push_back(noise() > 0);
    }
    EXPECT_EQ(pattern(clock).kind, SymbolPattern::Kind::clockLike);
    EXPECT_EQ(pattern(word).kind, SymbolPattern::Kind::repeating);
    EXPECT_EQ(pattern(word).length, 7);
    EXPECT_EQ(pattern(random).kind, SymbolPattern::Kind::none);
    EXPECT_EQ(pattern(Symbols(4000, 1)).kind, SymbolPattern::Kind::constant);
    EXPECT_EQ(pattern({}).kind, SymbolPattern::Kind::none);
}

/// The places of errors are exact, whatever the order, the polarity and the ratio.
TEST(SymbolErrorPlaces, AreThoseThatWerePlanted)
{
    for (const Known &one : known) {
        for (const std::size_t count : {0u, 1u, 50u, 1000u}) { // to 2 %
            Symbols symbols = prbs(one.order, one.stages, 50000, 5);
            const auto planted = plant(symbols, count, 11 + count);
            for (const bool turned : {false, true}) {
                const SymbolErrors found = errors(turned ? inverse(symbols) : symbols);
                EXPECT_EQ(found.reason, "");
                EXPECT_EQ(found.at, planted) << one.order << " " << count;
                EXPECT_EQ(found.compared, 50000) << one.order << " " << count;
                EXPECT_EQ(found.slips, 0);
            }
            const SymbolErrors said = errors(symbols, "prbs" + std::to_string(one.order));
            EXPECT_EQ(said.at, planted);
        }
    }
    // What was read less what was expected.
    Symbols symbols = prbs(7, {6, 7}, 1000);
    const auto was = int(symbols[400]);
    symbols[400] ^= 1;
    EXPECT_THAT(errors(symbols).by, testing::ElementsAre(was ? -1 : 1));
}

TEST(SymbolErrorPlaces, OfAPatternThatRepeatsOrIsGiven)
{
    test::Gaussian random(3);
    for (const std::size_t length : {7u, 40u, 999u}) {
        for (const int levels : {2, 3, 4}) {
            Symbols word, symbols;
            for (std::size_t i = 0; i < length; ++i) word.push_back(std::uint8_t(random.uniform() * levels));
            std::string words;
            for (const std::uint8_t symbol : word) words += char('0' + symbol);
            for (std::size_t i = 0; i < 20000; ++i) symbols.push_back(word[(i + 3) % length]);
            std::vector<std::int64_t> planted;
            for (std::size_t i = 117; i < symbols.size(); i += 1013) {
                symbols[i] = std::uint8_t((symbols[i] + 1) % levels);
                planted.push_back(std::int64_t(i));
            }
            EXPECT_EQ(errors(symbols).at, planted) << length << " " << levels;
            EXPECT_EQ(errors(symbols, words).at, planted) << length << " " << levels;
        }
    }
    EXPECT_FALSE(expectedBy("prbs8"));
    EXPECT_FALSE(expectedBy("01x"));
    EXPECT_TRUE(expectedBy("prbs31 inverted")->inverted);
}

/// A slip of the clock is told as one, and what lies beside it is compared; a burst of errors is none.
TEST(SymbolErrorPlaces, SlipsAndBurstsAreToldApart)
{
    Symbols symbols = prbs(15, {14, 15}, 30000);
    symbols.erase(symbols.begin() + 12000); // one symbol lost
    const SymbolErrors slipped = errors(symbols);
    EXPECT_EQ(slipped.slips, 1);
    EXPECT_GT(slipped.compared, 30000 - 200);
    EXPECT_LT(slipped.at.size(), 64u);
    for (const std::int64_t place : slipped.at) EXPECT_NEAR(double(place), 12000, 130);

    symbols = prbs(15, {14, 15}, 30000);
    std::vector<std::int64_t> burst;
    for (std::size_t i = 9000; i < 9100; ++i) {
        symbols[i] ^= 1;
        burst.push_back(std::int64_t(i));
    }
    const SymbolErrors bursts = errors(symbols);
    EXPECT_EQ(bursts.slips, 0);
    EXPECT_EQ(bursts.at, burst);
    EXPECT_EQ(bursts.compared, 30000);

    // Of a pattern that repeats the same.
    const std::string word = "0110001011101";
    for (const bool given : {false, true}) {
        Symbols repeating;
        for (std::size_t i = 0; i < 9000; ++i) repeating.push_back(std::uint8_t(word[i % word.size()] - '0'));
        for (std::size_t i = 2000; i < 2100; ++i) repeating[i] ^= 1;
        const SymbolErrors burstOf = errors(repeating, given ? word : "auto");
        EXPECT_EQ(burstOf.slips, 0);
        EXPECT_EQ(burstOf.at.size(), 100u);
        EXPECT_EQ(burstOf.compared, 9000);
        for (const std::ptrdiff_t lost : {6000, 7000}) repeating.erase(repeating.begin() + lost);
        const SymbolErrors slippedTwice = errors(repeating, given ? word : "auto");
        EXPECT_EQ(slippedTwice.slips, 2);
        EXPECT_LT(slippedTwice.at.size(), 100u + 2 * 64);
        EXPECT_GT(slippedTwice.compared, 9000 - 400);
    }

    // A gap, in which nothing is known.
    symbols = prbs(15, {14, 15}, 30000);
    std::fill_n(symbols.begin() + 5000, 700, unknownSymbol);
    symbols[20000] ^= 1;
    const SymbolErrors gapped = errors(symbols);
    EXPECT_EQ(gapped.slips, 0);
    EXPECT_EQ(gapped.compared, 30000 - 700);
    EXPECT_THAT(gapped.at, testing::ElementsAre(20000));
}

/// What was sent before the sequence began is not compared with it, but for the few symbols that it takes to tell.
TEST(SymbolErrorPlaces, WhatComesBeforeTheSequenceIsNotCompared)
{
    test::Gaussian random(8);
    for (const std::size_t before : {300u, 5000u}) {
        Symbols symbols = prbs(15, {14, 15}, 30000);
        for (std::size_t i = 0; i < before; ++i) symbols[i] = random.uniform() < 0.5;
        symbols[20000] ^= 1;
        for (const char *expected : {"auto", "prbs15"}) {
            const SymbolErrors found = errors(symbols, expected);
            EXPECT_EQ(found.slips, 0) << before;
            EXPECT_GE(found.compared, 30000 - std::int64_t(before) - 64);
            EXPECT_LE(found.compared, 30000 - std::int64_t(before) + 64);
            ASSERT_FALSE(found.at.empty());
            EXPECT_EQ(found.at.back(), 20000);
            EXPECT_LT(found.at.size(), 64u);
            EXPECT_GE(found.at.front(), std::int64_t(before) - 64);
        }
    }
}

TEST(SymbolErrorPlaces, WhatCannotBeComparedSaysWhy)
{
    Symbols random;
    test::Gaussian noise(9);
    for (int i = 0; i < 4000; ++i) random.push_back(noise() > 0);
    EXPECT_THAT(errors(random).reason, testing::HasSubstr("say which symbols are expected"));
    EXPECT_THAT(errors(random, "prbs7").reason, testing::HasSubstr("found nowhere"));
    EXPECT_THAT(errors(prbs(9, {5, 9}, 4000), "prbs9 inverted").reason, testing::HasSubstr("polarity"));
    EXPECT_THAT(errors({}).reason, testing::HasSubstr("no pattern"));
}

TEST(SymbolPlaces, OfAWordAreAllOfThem)
{
    const Symbols symbols{0, 0, 1, 1, 0, 1, 1, 1, 0, unknownSymbol, 1, 1};
    EXPECT_THAT(placesOf("011", symbols), testing::ElementsAre(1, 4));
    EXPECT_THAT(placesOf("1 1", symbols), testing::ElementsAre(2, 5, 6, 10));
    EXPECT_THAT(placesOf("?11", symbols), testing::ElementsAre(1, 4, 5));
    EXPECT_TRUE(placesOf("0110110111011", symbols).empty());
    EXPECT_TRUE(placesOf("", symbols).empty());
    EXPECT_THROW(placesOf("01z", symbols), Error);
}
