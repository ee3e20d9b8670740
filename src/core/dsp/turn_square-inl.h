// For files that the vector library compiles once a target: turns a square of numbers in registers over its diagonal.

#if defined(FULVEX_TURN_SQUARE_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef FULVEX_TURN_SQUARE_INL_H
#undef FULVEX_TURN_SQUARE_INL_H
#else
#define FULVEX_TURN_SQUARE_INL_H
#endif

#include <cstddef>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

/// Rows of doubles become columns; `side` is the lanes of `d`, up to eight. Pairs of numbers change places first, then
/// pairs of pairs, then halves.
template <typename D, std::size_t side>
HWY_INLINE void turnSquare(D d, hwy::HWY_NAMESPACE::Vec<D> (&rows)[side])
{
    namespace hn = hwy::HWY_NAMESPACE;
    static_assert(side <= 8);
    if constexpr (side >= 2) {
        for (std::size_t i = 0; i < side; i += 2) {
            const auto a = rows[i], b = rows[i + 1];
            rows[i] = hn::InterleaveLower(d, a, b);
            rows[i + 1] = hn::InterleaveUpper(d, a, b);
        }
    }
    if constexpr (side == 8) {
        for (const std::size_t i : {0, 1, 4, 5}) {
            const auto a = rows[i], b = rows[i + 2];
            rows[i] = hn::OddEvenBlocks(hn::SwapAdjacentBlocks(b), a);
            rows[i + 2] = hn::OddEvenBlocks(b, hn::SwapAdjacentBlocks(a));
        }
    }
    if constexpr (side >= 4) {
        for (std::size_t i = 0; i < side / 2; ++i) {
            const auto a = rows[i], b = rows[i + side / 2];
            rows[i] = hn::ConcatLowerLower(d, b, a);
            rows[i + side / 2] = hn::ConcatUpperUpper(d, b, a);
        }
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
