#include "code_counts.h"

#include "widest_vectors.h"

#include <algorithm>
#include <utility>

namespace fulvex {

namespace {

template <typename Code>
FULVEX_WIDEST_VECTORS std::pair<Code, Code> extremesOf(const Code *codes, std::size_t size)
{
    Code low = codes[0], high = codes[0];
    for (std::size_t i = 0; i < size; ++i) {
        low = std::min(low, codes[i]);
        high = std::max(high, codes[i]);
    }
    return {low, high};
}

struct CodeMoments {
    double count = 0, sum = 0, squares = 0;
};

/// Of codes as often as they are counted, from the middle one on: whole numbers, and rounded only beyond 2^53.
FULVEX_WIDEST_VECTORS CodeMoments momentsOf(const std::uint32_t *counts, std::size_t size)
{
    constexpr std::size_t places = 8; // added up in their order: the same bits in vectors of any width
    double count[places] = {}, sum[places] = {}, squares[places] = {};
    const auto add = [&](std::size_t i, std::size_t lane) {
        const double n = counts[i], off = double(std::int32_t(i) - std::int32_t(size / 2));
        count[lane] += n;
        sum[lane] += n * off;
        squares[lane] += n * (off * off);
    };
    std::size_t i = 0;
    for (; i + places <= size; i += places)
        for (std::size_t lane = 0; lane < places; ++lane) add(i + lane, lane);
    for (; i < size; ++i) add(i, i % places);
    CodeMoments all;
    for (std::size_t lane = 0; lane < places; ++lane) {
        all.count += count[lane];
        all.sum += sum[lane];
        all.squares += squares[lane];
    }
    return all;
}

} // namespace

/// Room grows by as much as there is, to the side that is short of it.
void CodeCounts::cover(std::int32_t low, std::int32_t high)
{
    const auto size = std::int32_t(m_counts[0].size());
    if (size > 0 && low >= m_base && high < m_base + size) return;
    constexpr std::int32_t some = 256;
    const std::int32_t more = std::max(some, size);
    std::int32_t first = size > 0 ? std::min(low, m_base) : low,
                 last = std::max(high + 1, size > 0 ? m_base + size : 0);
    if (size == 0 || low < m_base) first -= more;
    if (size == 0 || high >= m_base + size) last += more;
    first = std::max(first, CodeScale::least);
    last = std::min(last, CodeScale::most + 1);
    constexpr std::int32_t few = 4096;
    const bool two = last - first <= few;
    if (!two)
        for (std::size_t i = 0; i < m_counts[1].size(); ++i) m_counts[0][i] += m_counts[1][i];
    for (auto *counts : {&m_counts[0], &m_counts[1]}) {
        if (counts == &m_counts[1] && !two) {
            counts->clear();
            continue;
        }
        std::vector<std::uint32_t> wider(std::size_t(last - first));
        std::copy(counts->begin(), counts->end(), wider.begin() + (size > 0 ? m_base - first : 0));
        *counts = std::move(wider);
    }
    m_base = first;
}

template <typename Code>
std::pair<std::int32_t, std::int32_t> CodeCounts::add(std::int64_t first, std::span<const Code> codes)
{
    const auto [low, high] = extremesOf(codes.data(), codes.size());
    cover(low, high);
    const auto placeOf = [&](Code code) {
        return first + (std::find(codes.begin(), codes.end(), code) - codes.begin());
    };
    const bool any = m_low <= m_high;
    if (!any || low < m_low) m_low = low, m_lowAt = placeOf(low);
    if (!any || high > m_high) m_high = high, m_highAt = placeOf(high);
    const std::int32_t base = m_base;
    const auto count = [&](std::vector<std::uint32_t> &counts, Code code) { ++counts[std::size_t(code - base)]; };
    std::vector<std::uint32_t> &even = m_counts[0], &odd = m_counts[1].empty() ? even : m_counts[1];
    std::size_t i = 0;
    for (; i + 1 < codes.size(); i += 2) {
        count(even, codes[i]);
        count(odd, codes[i + 1]);
    }
    if (i < codes.size()) count(even, codes[i]);
    return {low, high};
}

template std::pair<std::int32_t, std::int32_t> CodeCounts::add(std::int64_t, std::span<const std::int16_t>);
template std::pair<std::int32_t, std::int32_t> CodeCounts::add(std::int64_t, std::span<const std::int32_t>);

void CodeCounts::addTo(AmplitudeStats &stats, AmplitudeHistogram &histogram)
{
    if (m_low > m_high) return;
    std::uint32_t *const counts = m_counts[0].data() + (m_low - m_base);
    const auto size = std::size_t(m_high - m_low + 1);
    if (!m_counts[1].empty()) {
        const std::uint32_t *const others = m_counts[1].data() + (m_low - m_base);
        for (std::size_t i = 0; i < size; ++i) counts[i] += others[i];
    }
    const auto [all, sum, squares] = momentsOf(counts, size);
    AmplitudeStats own;
    own.count = std::int64_t(all);
    own.minimum = m_scale.valueOf(m_low);
    own.maximum = m_scale.valueOf(m_high);
    own.minimumAt = m_lowAt;
    own.maximumAt = m_highAt;
    own.mean = (m_low + double(size / 2) + sum / all) * m_scale.step + m_scale.offset;
    own.squares = std::max(0.0, squares - sum * sum / all) * (m_scale.step * m_scale.step);
    stats.merge(own);
    histogram.addCodes(m_scale, m_low, std::span(counts, size));
}

} // namespace fulvex
