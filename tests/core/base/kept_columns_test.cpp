// Large columns that were freed are used again, as far as it was said.

#include "kept_columns.h"

#include <cstdlib>
#include <gtest/gtest.h>

using namespace fulvex;

TEST(KeptColumns, AreUsedAgainWhereLittleIsLeftOver)
{
    KeptColumns kept;
    void *const one = std::malloc(1000), *const other = std::malloc(1200);
    kept.keepUpTo(10'000);
    kept.keep(other, 1200);
    kept.keep(one, 1000);
    EXPECT_EQ(kept.take(1201), nullptr); // none is as large
    EXPECT_EQ(kept.take(700), nullptr);  // all are too large for that
    EXPECT_EQ(kept.take(990), one);      // the one that fits best
    EXPECT_EQ(kept.take(990), other);
    EXPECT_EQ(kept.take(990), nullptr);
    std::free(one);
    std::free(other);
}

TEST(KeptColumns, GoWhereTheyAreTooManyTheOldestFirst)
{
    KeptColumns kept;
    kept.keep(std::malloc(1000), 1000); // none may be kept yet
    EXPECT_EQ(kept.take(1000), nullptr);
    kept.keepUpTo(2500);
    void *const second = std::malloc(1010), *const third = std::malloc(1020);
    kept.keep(std::malloc(1000), 1000);
    kept.keep(second, 1010);
    kept.keep(third, 1020);
    EXPECT_EQ(kept.take(1000), second);
    kept.keep(second, 1010);
    kept.keepUpTo(1500);
    EXPECT_EQ(kept.take(1015), nullptr); // the older one, now that the other was taken and given back
    EXPECT_EQ(kept.take(1000), second);
    kept.keep(second, 1010);
    kept.keep(std::malloc(2000), 2000); // more than may be kept
    EXPECT_EQ(kept.take(1000), second);
    kept.keep(second, 1010);
    kept.freeAll();
    EXPECT_EQ(kept.take(1000), nullptr);
}
