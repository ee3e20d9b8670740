#include "sieve_kernels.h"

#include "fold_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "sieve_kernels.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
// clang-format off
#include "put_bits-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

/// Bands of both ends are fetched from the table by many at a time; of words, since that is what can be fetched.
void suspectLines(const SieveBands &bands, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects)
{
    const hn::CappedTag<std::uint32_t, 16> u;
    const hn::RebindToSigned<decltype(u)> s;
    const auto column = hn::Set(u, std::uint32_t(SieveBands::columns - 1)), longest = hn::Set(u, bands.longest),
               three = hn::Set(u, 3), byte = hn::Set(u, 0xff), none = hn::Zero(u);
    const auto bandAt = [&](auto place) {
        const auto four = hn::GatherIndex(u, bands.packed, hn::BitCast(s, hn::ShiftRight<2>(place)));
        return hn::And(hn::Shr(four, hn::ShiftLeft<3>(hn::And(place, three))), byte);
    };
    for (std::size_t i = 0; i < lines; i += hn::Lanes(u)) {
        const auto from = hn::LoadU(u, phases + i), length = hn::Sub(hn::LoadU(u, phases + i + 1), from);
        const auto its = hn::And(hn::ShiftRight<ClockPhase::bits - SieveBands::columnBits>(from), column);
        const auto first = hn::ShiftLeft<SieveBands::rowBits>(its);
        const auto a = bandAt(hn::Add(first, hn::BitCast(u, hn::LoadU(s, rows + i)))),
                   b = bandAt(hn::Add(first, hn::BitCast(u, hn::LoadU(s, rows + i + 1))));
        putBits(u, hn::Or(hn::Or(hn::Ne(a, b), hn::Eq(a, none)), hn::Gt(length, longest)), i, suspects);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(suspectLines);

void suspectLines(const SieveBands &bands, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects)
{
    HWY_DYNAMIC_DISPATCH(suspectLines)(bands, phases, rows, lines, suspects);
}

} // namespace fulvex
#endif
