#include "code_counts.h"

#include "widest_vectors.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

FULVEX_WIDEST_VECTORS std::pair<std::int16_t, std::int16_t> extremesOf(const std::int16_t *codes, std::size_t size)
{
    std::int16_t low = codes[0], high = codes[0];
    for (std::size_t i = 0; i < size; ++i) {
        low = std::min(low, codes[i]);
        high = std::max(high, codes[i]);
    }
    return {low, high};
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
    for (auto &counts : m_counts) {
        std::vector<std::uint32_t> wider(std::size_t(last - first));
        std::copy(counts.begin(), counts.end(), wider.begin() + (size > 0 ? m_base - first : 0));
        counts = std::move(wider);
    }
    m_base = first;
}

std::pair<std::int16_t, std::int16_t> CodeCounts::add(std::int64_t first, std::span<const std::int16_t> codes)
{
    const auto [low, high] = extremesOf(codes.data(), codes.size());
    cover(low, high);
    const auto placeOf = [&](std::int16_t code) {
        return first + (std::find(codes.begin(), codes.end(), code) - codes.begin());
    };
    const bool any = m_low <= m_high;
    if (!any || low < m_low) m_low = low, m_lowAt = placeOf(low);
    if (!any || high > m_high) m_high = high, m_highAt = placeOf(high);
    const std::int32_t base = m_base;
    const auto count = [&](std::vector<std::uint32_t> &counts, std::int16_t code) {
        ++counts[std::size_t(code - base)];
    };
    std::size_t i = 0;
    for (; i + 1 < codes.size(); i += 2) {
        count(m_counts[0], codes[i]);
        count(m_counts[1], codes[i + 1]);
    }
    if (i < codes.size()) count(m_counts[0], codes[i]);
    return {low, high};
}

void CodeCounts::moveTo(AmplitudeStats &stats, AmplitudeHistogram &histogram)
{
    if (m_low > m_high) return;
    std::vector<std::uint64_t> counts(std::size_t(m_high - m_low + 1));
    double sum = 0, all = 0;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        const auto place = std::size_t(m_low - m_base) + i;
        counts[i] = std::uint64_t(m_counts[0][place]) + m_counts[1][place];
        all += double(counts[i]);
        sum += double(counts[i]) * double(i); // whole numbers below 2^53
        m_counts[0][place] = m_counts[1][place] = 0;
    }
    const double mean = sum / all;
    AmplitudeStats own;
    own.count = std::int64_t(all);
    own.minimum = m_scale.valueOf(m_low);
    own.maximum = m_scale.valueOf(m_high);
    own.minimumAt = m_lowAt;
    own.maximumAt = m_highAt;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        const double off = double(i) - mean;
        own.squares += double(counts[i]) * (off * off);
    }
    own.mean = (m_low + mean) * m_scale.step + m_scale.offset;
    own.squares *= m_scale.step * m_scale.step;
    stats.merge(own);
    histogram.addCodes(m_scale, m_low, counts);
    m_low = 0;
    m_high = -1;
}

} // namespace fulvex
