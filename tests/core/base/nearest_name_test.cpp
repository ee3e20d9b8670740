#include "nearest_name.h"

#include <array>
#include <gtest/gtest.h>

using fulvex::remedyForName;

TEST(NearestName, IsOfferedWhereItIsNearEnough)
{
    const std::array<std::string, 3> known = {"lowpass", "highpass", "abs"};
    EXPECT_EQ(remedyForName("lowpas", known), "did you mean \"lowpass\"?");
    EXPECT_EQ(remedyForName("hihgpass", known), "did you mean \"highpass\"?");
    EXPECT_EQ(remedyForName("abz", known), "did you mean \"abs\"?");
    EXPECT_EQ(remedyForName("xyz", known), "there are: lowpass, highpass, abs"); // three changes of three
    EXPECT_EQ(remedyForName("q", known), "there are: lowpass, highpass, abs");
    EXPECT_EQ(remedyForName("thermal", known), "there are: lowpass, highpass, abs");
    EXPECT_EQ(remedyForName("", known), "there are: lowpass, highpass, abs");
    EXPECT_EQ(remedyForName("a", {}), "there are: ");
}
