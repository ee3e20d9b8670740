#pragma once

#include <array>
#include <cstdint>
#include <gtest/gtest.h>
#include <hwy/highway.h>

namespace fulvex::test {

/// Kernels run by one instruction set alone.
struct ByTarget {
    explicit ByTarget(std::int64_t target)
    {
        hwy::SetSupportedTargetsForTest(target);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }
    ~ByTarget()
    {
        hwy::SetSupportedTargetsForTest(0);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }
    ByTarget(const ByTarget &) = delete;
    ByTarget &operator=(const ByTarget &) = delete;
};

/// Calls `work` by each of the instruction sets that the machine has.
template <typename Work>
void byEachTarget(Work &&work)
{
    int targets = 0;
    for (const std::int64_t target : {HWY_AVX3, HWY_AVX2, HWY_SSE4, HWY_SSSE3}) {
        if (!(hwy::SupportedTargets() & target)) continue;
        SCOPED_TRACE(hwy::TargetName(target));
        const ByTarget only(target);
        work();
        ++targets;
    }
    EXPECT_GT(targets, 1);
}

} // namespace fulvex::test
