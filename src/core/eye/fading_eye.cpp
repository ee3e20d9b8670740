#include "fading_eye.h"

#include <cassert>

namespace fulvex {

EyeFold fadingEye(std::span<const std::shared_ptr<const EyeFold>> newestFirst)
{
    assert(!newestFirst.empty() && newestFirst.size() <= 16);
    std::vector<EyeFold> weighted;
    std::uint64_t weight = std::uint64_t(1) << (newestFirst.size() - 1);
    for (const auto &fold : newestFirst) {
        EyeFold one = *fold;
        for (auto *counts : {&one.picture.counts, &one.curves.counts.counts})
            for (std::uint64_t &count : *counts) count *= weight;
        one.unitIntervals *= std::int64_t(weight);
        one.curves.unitIntervals *= std::int64_t(weight);
        weighted.push_back(std::move(one));
        weight /= 2;
    }
    std::vector<const EyeFold *> folds;
    for (const EyeFold &fold : weighted) folds.push_back(&fold);
    return EyeFold::merged(folds);
}

} // namespace fulvex
