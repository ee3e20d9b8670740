#include "plain_text.h"

#include "error.h"

#include <gtest/gtest.h>

using namespace fulvex;

TEST(PlainText, WhatIsNotUtf8IsLatin1)
{
    EXPECT_EQ(asUtf8("CH1 (µV)"), "CH1 (µV)");
    EXPECT_EQ(asUtf8("CH1 (\xB5V)"), "CH1 (µV)");
    for (const char *bad : {"\xC0\xAF", "\xED\xA0\x80", "\xF5\x80\x80\x80", "\x80", "a\xFF", "\xE2\x82"})
        EXPECT_FALSE(isUtf8(bad)) << bad; // overlong, surrogate, beyond Unicode, stray, never, cut off
    EXPECT_TRUE(isUtf8("\xE2\x82", true));
    EXPECT_TRUE(isUtf8("\U0001F30A"));
    EXPECT_FALSE(isUtf8("\xE2\x82z", true));
}

TEST(PlainText, WhatIsShownMovesNoCursorAndIsOneLine)
{
    EXPECT_EQ(shownText("a\x1b[31mb\rc\nd\x7f"), "a [31mb c d ");
    EXPECT_EQ(shownText("a\nb", true), "a\nb");
    EXPECT_EQ(shownText("a\xC2\x9B" "31m"), "a 31m"); // a control sequence in one character
    const Error error("file\x1b]0;x\x07\xFF", "is\nbad", "mend it");
    EXPECT_TRUE(isUtf8(error.what()));
    EXPECT_EQ(std::string(error.what()).find_first_of("\x1b\x07\n"), std::string::npos);
}
