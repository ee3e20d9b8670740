#include "crossing_masks.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "crossing_masks.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void masks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    const hn::ScalableTag<double> d;
    const std::size_t lanes = hn::Lanes(d);
    const auto mid = hn::Set(d, level.mid), bottom = hn::Set(d, level.bottom), top = hn::Set(d, level.top);
    const auto bits = [&](auto mask) {
        std::uint8_t bytes[HWY_MAX_BYTES / 8 + 8] = {};
        hn::StoreMaskBits(d, mask, bytes);
        return std::uint64_t(bytes[0]);
    };
    for (std::size_t word = 0; word < words; ++word) {
        CrossingMasks m{};
        for (std::size_t i = 0; i < 64; i += lanes) {
            const auto v = hn::LoadU(d, samples + word * 64 + i);
            m.above |= bits(hn::Ge(v, mid)) << i;
            m.atBottom |= bits(hn::And(hn::Le(v, bottom), hn::Lt(v, mid))) << i;
            m.atTop |= bits(hn::Ge(v, top)) << i;
            m.finite |= bits(hn::Eq(v, v)) << i;
        }
        out[word] = m;
    }
}

const char *target()
{
    return hwy::TargetName(HWY_TARGET);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(masks);
HWY_EXPORT(target);

void crossingMasks(const double *samples, std::size_t words, CrossingLevel level, CrossingMasks *out)
{
    HWY_DYNAMIC_DISPATCH(masks)(samples, words, level, out);
}

const char *crossingMasksTarget()
{
    return HWY_DYNAMIC_DISPATCH(target)();
}

} // namespace fulvex
#endif
