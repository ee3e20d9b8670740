#include "filter_cascade.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "filter_lanes.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace fulvex::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr std::size_t stretch = 64; ///< samples of each piece at a time, which stay in the nearest cache
constexpr std::size_t lanes = FilterCascade::together;

/// One section over `count` rows of lanes, in place.
void runSection(const FilterCascade::Section &of, double (*rows)[lanes], std::size_t count, double *firsts,
                double *seconds)
{
    const hn::CappedTag<double, lanes> d;
    using V = hn::Vec<decltype(d)>;
    constexpr std::size_t wide = hn::MaxLanes(d), vectors = lanes / wide;
    const V b0 = hn::Set(d, of.b0), b1 = hn::Set(d, of.b1), b2 = hn::Set(d, of.b2), a1 = hn::Set(d, of.a1),
            a2 = hn::Set(d, of.a2);
    V first[vectors], second[vectors]; // chains side by side
    for (std::size_t k = 0; k < vectors; ++k) {
        first[k] = hn::LoadU(d, firsts + k * wide);
        second[k] = hn::LoadU(d, seconds + k * wide);
    }
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t k = 0; k < vectors; ++k) {
            double *at = rows[i] + k * wide;
            const V value = hn::Load(d, at), out = hn::Add(hn::Mul(b0, value), first[k]);
            first[k] = hn::Add(hn::Sub(hn::Mul(b1, value), hn::Mul(a1, out)), second[k]);
            second[k] = hn::Sub(hn::Mul(b2, value), hn::Mul(a2, out));
            hn::Store(out, d, at);
        }
    }
    for (std::size_t k = 0; k < vectors; ++k) {
        hn::StoreU(first[k], d, firsts + k * wide);
        hn::StoreU(second[k], d, seconds + k * wide);
    }
}

void runTogether(const FilterCascade::Section *sections, std::size_t count, double *const *pieces, std::size_t length,
                 FilterCascade::State *const *states, bool keep)
{
    HWY_ALIGN double rows[stretch][lanes];
    double first[FilterCascade::mostSections][lanes], second[FilterCascade::mostSections][lanes];
    for (std::size_t k = 0; k < count; ++k)
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            first[k][lane] = (*states[lane])[2 * k];
            second[k][lane] = (*states[lane])[2 * k + 1];
        }
    for (std::size_t from = 0; from < length; from += stretch) {
        const std::size_t some = HWY_MIN(stretch, length - from);
        for (std::size_t lane = 0; lane < lanes; ++lane)
            for (std::size_t i = 0; i < some; ++i) rows[i][lane] = pieces[lane][from + i];
        for (std::size_t k = 0; k < count; ++k) runSection(sections[k], rows, some, first[k], second[k]);
        if (!keep) continue;
        for (std::size_t lane = 0; lane < lanes; ++lane)
            for (std::size_t i = 0; i < some; ++i) pieces[lane][from + i] = rows[i][lane];
    }
    for (std::size_t k = 0; k < count; ++k)
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            (*states[lane])[2 * k] = first[k][lane];
            (*states[lane])[2 * k + 1] = second[k][lane];
        }
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(runTogether);

void FilterCascade::runTogether(double *const *pieces, std::int64_t length, State *const *states, bool keep) const
{
    HWY_DYNAMIC_DISPATCH(runTogether)(m_sections.data(), m_sections.size(), pieces, std::size_t(length), states, keep);
}

} // namespace fulvex
#endif
