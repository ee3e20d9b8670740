// For files that the vector library compiles once a target: writes what vectors say of samples as bits, 64 a word.

#if defined(FULVEX_PUT_BITS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef FULVEX_PUT_BITS_INL_H
#undef FULVEX_PUT_BITS_INL_H
#else
#define FULVEX_PUT_BITS_INL_H
#endif

#include <cstdint>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

/// Writes bits i, i + 1, … of a row; i is a multiple of the lanes.
template <typename D>
void putBits(D d, hwy::HWY_NAMESPACE::Mask<D> mask, std::size_t i, std::uint64_t *row)
{
    namespace hn = hwy::HWY_NAMESPACE;
    auto *const bytes = reinterpret_cast<std::uint8_t *>(row);
    if (hn::Lanes(d) % 8 == 0) {
        hn::StoreMaskBits(d, mask, bytes + i / 8);
        return;
    }
    std::uint8_t some[8] = {};
    hn::StoreMaskBits(d, mask, some);
    bytes[i / 8] = std::uint8_t(i % 8 == 0 ? some[0] : bytes[i / 8] | some[0] << i % 8);
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
