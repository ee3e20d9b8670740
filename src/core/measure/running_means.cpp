#include "running_means.h"

namespace fulvex {

RunningMeans::RunningMeans(Column values) : m_values(std::move(values)), m_before{0}
{
    if (m_values.size() > 0) m_reference = m_values.front();
    for (std::size_t first = 0; first < m_values.size(); first += block) {
        double sum = m_before.back();
        m_values.each(first, std::min(m_values.size(), first + block), [&](double v) { sum += v - m_reference; });
        m_before.push_back(sum);
    }
}

double RunningMeans::around(std::size_t index, std::size_t length) const
{
    const std::size_t before = (length - 1) / 2, after = length - 1 - before;
    const std::size_t first = index > before ? index - before : 0, last = std::min(m_values.size(), index + after + 1);
    const auto upTo = [&](std::size_t end) {
        double sum = m_before[end / block];
        m_values.each(end / block * block, end, [&](double v) { sum += v - m_reference; });
        return sum;
    };
    return m_reference + (upTo(last) - upTo(first)) / double(last - first);
}

} // namespace fulvex
