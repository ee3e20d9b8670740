#include "sieve_kernels.h"

#include "phase_kernels.h"

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

/// Words of the table are fetched by many at a time.
void suspectLines(const SieveLines &table, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects)
{
    static_assert(SieveLines::rowsABit == 2 && SieveLines::bits == 32 && SieveLines::wordsARow == 2);
    const hn::CappedTag<std::uint32_t, 16> u;
    const hn::RebindToSigned<decltype(u)> s;
    const auto columns = hn::Set(u, std::uint32_t(SieveLines::columns - 1)), shortest = hn::Set(u, table.shortest),
               room = hn::Set(u, table.longest - table.shortest), bits = hn::Set(u, 31), one = hn::Set(u, 1);
    for (std::size_t i = 0; i < lines; i += hn::Lanes(u)) {
        const auto from = hn::LoadU(u, phases + i), length = hn::Sub(hn::LoadU(u, phases + i + 1), from);
        const auto column = hn::And(hn::ShiftRight<ClockPhase::bits - SieveLines::columnBits>(from), columns);
        const auto a = hn::BitCast(u, hn::LoadU(s, rows + i)), b = hn::BitCast(u, hn::LoadU(s, rows + i + 1));
        const auto row = hn::Add(hn::ShiftLeft<SieveLines::rowBits>(column), a);
        const auto word = hn::Add(hn::ShiftLeft<1>(row), hn::ShiftRight<6>(b));
        const auto clear =
            hn::Shr(hn::GatherIndex(u, table.clear, hn::BitCast(s, word)), hn::And(hn::ShiftRight<1>(b), bits));
        putBits(u, hn::Or(hn::Ne(hn::And(clear, one), one), hn::Gt(hn::Sub(length, shortest), room)), i, suspects);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(suspectLines);

void suspectLines(const SieveLines &table, const std::uint32_t *phases, const std::int32_t *rows, std::size_t lines,
                  std::uint64_t *suspects)
{
    HWY_DYNAMIC_DISPATCH(suspectLines)(table, phases, rows, lines, suspects);
}

} // namespace fulvex
#endif
