#include "phase_kernels.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "phase_kernels.cpp"
#include <algorithm>
#include <array>
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
// clang-format off
#include "put_bits-inl.h" // behind what compiles this once a target
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr std::size_t sixteen = 16; ///< samples that a line is laid along at a time, whatever the vectors are
using Whole = hn::CappedTag<std::uint32_t, sixteen>;
using Lanes = hn::CappedTag<double, 8>;

/// Where some lines begin: their first samples, and the phases and steps there.
struct LineStarts {
    static constexpr std::size_t most = 64;
    std::array<std::int32_t, most + ClockLines::padding> first, phase, step;
};

void layStarts(const ClockLines &lines, std::size_t from, std::size_t count, double samples, LineStarts &out)
{
    const Lanes d;
    const hn::Rebind<std::int32_t, Lanes> di;
    const auto origin = hn::Set(d, lines.origin), zero = hn::Zero(d), last = hn::Set(d, samples), one = hn::Set(d, 1.0),
               unit = hn::Set(d, double(ClockPhase::unitInterval));
    for (std::size_t k = 0; k < count; k += hn::Lanes(d)) {
        const auto at = hn::Sub(hn::LoadU(d, lines.from + from + k), origin);
        const auto first = hn::Min(hn::Max(hn::Ceil(at), zero), last);
        const auto slope = hn::Mul(hn::Div(one, hn::LoadU(d, lines.step + from + k)), unit);
        hn::StoreU(hn::DemoteTo(di, first), di, out.first.data() + k);
        hn::StoreU(hn::DemoteTo(di, hn::Round(hn::Mul(hn::Sub(first, at), slope))), di, out.phase.data() + k);
        hn::StoreU(hn::DemoteTo(di, hn::Round(slope)), di, out.step.data() + k);
    }
}

/// Line by line, sixteen samples at least: what is written past a line, the next one overwrites.
void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases)
{
    const Whole u;
    const auto counting = hn::Iota(u, 0);
    const auto lay = [&](std::uint32_t phase, std::uint32_t step, std::uint32_t *out) {
        const auto steps = hn::Set(u, step);
        auto at = hn::Add(hn::Set(u, phase), hn::Mul(counting, steps));
        const auto vector = hn::Set(u, step * std::uint32_t(hn::Lanes(u)));
        for (std::size_t i = 0; i < sixteen; i += hn::Lanes(u), at = hn::Add(at, vector)) hn::StoreU(at, u, out + i);
    };
    LineStarts starts;
    const std::size_t size = lines.number.size();
    for (std::size_t done = 0; done < size; done += LineStarts::most) {
        const std::size_t count = std::min(LineStarts::most, size - done);
        layStarts(lines, done, std::min(count + 1, size - done), double(samples), starts);
        if (done + count == size) starts.first[count] = std::int32_t(samples);
        for (std::size_t k = 0; k < count; ++k) {
            const auto number = std::uint32_t(lines.number[done + k]) << ClockPhase::bits;
            const auto step = std::uint32_t(starts.step[k]);
            const std::int32_t first = starts.first[k], end = starts.first[k + 1];
            lay(number + std::uint32_t(starts.phase[k]), step, phases + first);
            // A long one is begun anew, so that steps' rounding does not add up.
            for (std::int32_t i = first + std::int32_t(sixteen); HWY_UNLIKELY(i < end); i += std::int32_t(sixteen)) {
                const double along = (double(i) - (lines.from[done + k] - lines.origin)) / lines.step[done + k];
                lay(number + std::uint32_t(std::int64_t(along * ClockPhase::unitInterval + 0.5)), step, phases + i);
            }
        }
    }
}

void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out)
{
    const Whole u;
    const hn::RebindToSigned<Whole> s;
    const auto half = hn::Set(u, ClockPhase::half), number = hn::Set(u, ~ClockPhase::within), none = hn::Zero(u);
    // The phase alone, of 32 bits: a comparison with a half is one with the sign.
    constexpr double all = 4294967296.0;
    const auto quarter = hn::Set(u, std::uint32_t(all / 4)), from = hn::Set(u, std::uint32_t(0.4 * all)),
               fifth = hn::Set(u, std::uint32_t(0.2 * all));
    const auto isNegative = [&](auto v) { return hn::RebindMask(u, hn::Lt(hn::BitCast(s, v), hn::Zero(s))); };
    for (std::size_t i = 0; i < 64 * words; i += hn::Lanes(u)) {
        const auto at = hn::LoadU(u, phases + i), next = hn::LoadU(u, phases + i + 1);
        const auto passed = hn::And(hn::Xor(hn::Add(at, half), hn::Add(next, half)), number);
        const auto phase = hn::ShiftLeft<32 - ClockPhase::bits>(at);
        putBits(u, hn::Ne(passed, none), i, out.middles);
        if (!out.behind) continue;
        putBits(u, isNegative(phase), i, out.behind);
        putBits(u, hn::Lt(hn::Sub(phase, from), fifth), i, out.centre);
        putBits(u, hn::Not(isNegative(hn::Add(phase, quarter))), i, out.edge);
    }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(layPhases);
HWY_EXPORT(phaseWords);

void layPhases(const ClockLines &lines, std::size_t samples, std::uint32_t *phases)
{
    HWY_DYNAMIC_DISPATCH(layPhases)(lines, samples, phases);
}

void phaseWords(const std::uint32_t *phases, std::size_t words, const PhaseWords &out)
{
    HWY_DYNAMIC_DISPATCH(phaseWords)(phases, words, out);
}

} // namespace fulvex
#endif
