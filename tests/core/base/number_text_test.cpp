#include "number_text.h"

#include <cmath>

using namespace fulvex;

TEST(NumberText, ThePrefixPutsTheNumberIntoOneToAThousand)
{
    EXPECT_EQ(quantityText(4.126e-10, "s"), "412.6 ps");
    EXPECT_EQ(quantityText(6.4e8, "Bd"), "640.0 MBd");
    EXPECT_EQ(quantityText(0.9999999, "V", {}, 3), "1.00 V");
    EXPECT_EQ(quantityText(-0.0125, "V", {}, 3), "\u221212.5 mV");
    EXPECT_EQ(quantityText(50.1234, "%", {}, 4), "50.12 %");
    EXPECT_EQ(quantityText(0, "s"), "0 s");
}

TEST(NumberText, TheUncertaintyDecidesTheLastDigit)
{
    EXPECT_EQ(quantityWithUncertainty(4.12634e-10, "s", 2e-13), "412.6 ± 0.2 ps");
    EXPECT_EQ(quantityWithUncertainty(6.39998e8, "Bd", 1300), "639.998 ± 0.001 MBd");
    EXPECT_EQ(quantityWithUncertainty(1e-15, "s", 3e-12), "0 ± 3 ps");
    EXPECT_EQ(quantityWithUncertainty(0.5, "V", {}), "500.00 mV");
    // Below the last digit that is told it has a scale of its own, and never reads as nought.
    EXPECT_EQ(quantityWithUncertainty(2.5e9, "Bd", 0.05), "2.500000000 GBd ± 50 mBd");
    EXPECT_EQ(quantityWithUncertainty(2.5e9, "Bd", 0.6), "2.500000000 ± 0.000000001 GBd");
}

TEST(NumberText, WhatIsNoNumberIsADash)
{
    EXPECT_EQ(quantityText(NAN, "s"), "\u2014");
    EXPECT_EQ(quantityWithUncertainty(INFINITY, "s", 1.0), "\u2014");
}

TEST(NumberText, TheLargestAndSmallestNumbersHaveDigitsToo)
{
    EXPECT_THAT(quantityText(1.7976931348623157e308, "%"), testing::StartsWith("179769313486231570"));
    EXPECT_THAT(quantityText(-1.7976931348623157e308, "V", 5e-324), testing::StartsWith("\u2212"));
    EXPECT_EQ(quantityText(5e-324, "V", 5e-324), "0.000000000 aV");
    EXPECT_THAT(quantityWithUncertainty(1e-300, "V", 1.7e308), testing::EndsWith("TV"));
    EXPECT_FALSE(parseQuantity("1e308 T", "V")); // no number any more
}

TEST(NumberText, LeavesOutZerosThatSayNothing)
{
    EXPECT_EQ(withoutIdleZeros("2.000 ns"), "2 ns");
    EXPECT_EQ(withoutIdleZeros("1.500"), "1.5");
    EXPECT_EQ(withoutIdleZeros("100 kV"), "100 kV"); // those before the mark say something
    EXPECT_EQ(withoutIdleZeros("0.0"), "0");
    EXPECT_EQ(withoutIdleZeros(""), "");
}

TEST(NumberText, ReadsWhatPeopleType)
{
    EXPECT_DOUBLE_EQ(*parseQuantity("5M", "Hz"), 5e6);
    EXPECT_DOUBLE_EQ(*parseQuantity(" 1.5 MHz ", "Hz"), 1.5e6);
    EXPECT_DOUBLE_EQ(*parseQuantity("-40 ps", "s"), -40e-12);
    EXPECT_DOUBLE_EQ(*parseQuantity("\u221240 ps", "s"), -40e-12);
    EXPECT_DOUBLE_EQ(*parseQuantity("3u", "s"), 3e-6);
    EXPECT_DOUBLE_EQ(*parseQuantity("1e-9", "s"), 1e-9);
    for (const char *bad : {"", "abc", "5 Mx", "5 MHz 3", "nan", "--5"}) EXPECT_FALSE(parseQuantity(bad, "Hz")) << bad;
}

TEST(NumberText, APlainNumberIsReadWholeOrNotAtAll)
{
    for (const double value : {0.0, -2.5e-12, 1.7976931348623157e308, 4503599627370497.5})
        EXPECT_EQ(plainNumber(plainText(value)), value);
    EXPECT_EQ(plainNumber("+1.5"), 1.5);
    for (const char *bad : {"", "+", "+-1", "1,5", " 1", "1 ", "5M", "1e999", "nan", "-inf", "0x10"})
        EXPECT_FALSE(plainNumber(bad)) << bad;
}

TEST(NumberText, HasTheUsersMarkOnlyWhereNumbersAreShown)
{
    setNumberManner({',', -9});
    // A thread that shows nothing makes files.
    std::string before, shown, plain, read;
    std::optional<double> typed, withPoint, elsewhere;
    std::thread([&] {
        before = quantityText(1.5e-9, "s");
        elsewhere = parseQuantity("1,5 ns", "s");
        showNumbersHere();
        shown = quantityText(1.5e-9, "s");
        typed = parseQuantity("1,5 ns", "s");
        withPoint = parseQuantity("1.5 ns", "s");
        read = typedNumber(0.25) + " " + plainText(0.25);
        const PlainNumbers forAFile;
        plain = quantityText(1.5e-9, "s");
    }).join();
    setNumberManner({});
    EXPECT_EQ(before, "1.500 ns");
    EXPECT_EQ(shown, "1,500 ns");
    EXPECT_EQ(plain, "1.500 ns");
    EXPECT_EQ(read, "0,25 0.25");
    EXPECT_FALSE(elsewhere);
    ASSERT_TRUE(typed && withPoint);
    EXPECT_DOUBLE_EQ(*typed, 1.5e-9);
    EXPECT_DOUBLE_EQ(*withPoint, 1.5e-9);
}
