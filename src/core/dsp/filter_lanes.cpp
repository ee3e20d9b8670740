#include "filter_cascade.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "filter_lanes.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>
// clang-format off
#include "turn_square-inl.h" // behind what compiles this once a target
// clang-format on

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

/// A square of numbers, as many to a side as a vector of up to four holds.
constexpr hn::CappedTag<double, 4> square;
constexpr std::size_t side = hn::MaxLanes(square);
using Row = hn::Vec<decltype(square)>;

void runTogether(const FilterCascade::Section *sections, std::size_t count, const double *const *pieces,
                 std::size_t length, FilterCascade::State *const *states, double *const *results)
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
        for (std::size_t lane = 0; lane < lanes; lane += side)
            for (std::size_t i = 0; i < some; i += side) {
                Row numbers[side];
                for (std::size_t k = 0; k < side; ++k) numbers[k] = hn::LoadU(square, pieces[lane + k] + from + i);
                turnSquare(square, numbers);
                for (std::size_t k = 0; k < side; ++k) hn::Store(numbers[k], square, &rows[i + k][lane]);
            }
        for (std::size_t k = 0; k < count; ++k) runSection(sections[k], rows, some, first[k], second[k]);
        for (std::size_t lane = 0; lane < lanes; lane += side)
            for (std::size_t i = 0; i < some; i += side) {
                Row numbers[side];
                for (std::size_t k = 0; k < side; ++k) numbers[k] = hn::Load(square, &rows[i + k][lane]);
                turnSquare(square, numbers);
                for (std::size_t k = 0; k < side; ++k) hn::StoreU(numbers[k], square, results[lane + k] + from + i);
            }
    }
    for (std::size_t k = 0; k < count; ++k)
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            (*states[lane])[2 * k] = first[k][lane];
            (*states[lane])[2 * k + 1] = second[k][lane];
        }
}

/// In 16 sums side by side, however wide vectors are.
double weightedSum(const double *weights, const double *samples, std::size_t length)
{
    const hn::CappedTag<double, lanes> d;
    constexpr std::size_t wide = hn::MaxLanes(d), vectors = lanes / wide;
    hn::Vec<decltype(d)> sums[vectors];
    for (auto &sum : sums) sum = hn::Zero(d);
    for (std::size_t i = 0; i < length; i += lanes)
        for (std::size_t k = 0; k < vectors; ++k)
            sums[k] =
                hn::Add(sums[k], hn::Mul(hn::LoadU(d, weights + i + k * wide), hn::LoadU(d, samples + i + k * wide)));
    HWY_ALIGN double all[lanes];
    for (std::size_t k = 0; k < vectors; ++k) hn::Store(sums[k], d, all + k * wide);
    double sum = 0;
    for (const double one : all) sum += one;
    return sum;
}

} // namespace fulvex::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace fulvex {

HWY_EXPORT(runTogether);
HWY_EXPORT(weightedSum);

FilterCascade::Ending::Ending(const FilterCascade &filter, std::size_t length)
    : m_length(length), m_weights(2 * filter.sections(), std::vector<double>(length))
{
    State state{};
    for (std::size_t since = 0; since < length; ++since) {
        double sample = since == 0 ? 1 : 0;
        filter.run({&sample, 1}, state);
        for (std::size_t k = 0; k < m_weights.size(); ++k) m_weights[k][length - 1 - since] = state[k];
    }
}

FilterCascade::State FilterCascade::Ending::of(const double *samples) const
{
    State state{};
    for (std::size_t k = 0; k < m_weights.size(); ++k)
        state[k] = HWY_DYNAMIC_DISPATCH(weightedSum)(m_weights[k].data(), samples, m_length);
    return state;
}

void FilterCascade::runTogether(const double *const *pieces, std::int64_t length, State *const *states,
                                double *const *results) const
{
    HWY_DYNAMIC_DISPATCH(runTogether)
    (m_sections.data(), m_sections.size(), pieces, std::size_t(length), states, results);
}

} // namespace fulvex
#endif
