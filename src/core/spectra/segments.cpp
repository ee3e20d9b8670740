#include "segments.h"

#include <bit>
#include <cmath>

namespace fulvex {

Segments::Segments(SampleRange range, const SegmentRule &rule) : m_range(range)
{
    const auto length = std::int64_t(rule.length);
    m_all = range.size() < length ? 0 : (range.size() - length) / (length / 2) + 1;
    m_count = std::min(m_all, rule.most);
    m_weights = windowWeights(rule.window, rule.length);
    for (const double weight : m_weights) m_squares += weight * weight;
}

std::int64_t Segments::first(std::int64_t k) const
{
    if (m_count < m_all && m_count > 1) k = std::int64_t(double(k) * double(m_all - 1) / double(m_count - 1));
    return m_range.first + k * std::int64_t(length() / 2);
}

SampleRange Segments::samples(SampleRange segments) const
{
    return {first(segments.first), first(segments.last - 1) + std::int64_t(length())};
}

bool Segments::transform(const SampleSource &source, std::int64_t k, FourierBuffer &buffer) const
{
    double *samples = buffer.reals();
    source.read(first(k), {samples, m_weights.size()});
    double check = 0;
    for (std::size_t i = 0; i < m_weights.size(); ++i) {
        check += samples[i] - samples[i];
        samples[i] *= m_weights[i];
    }
    if (check != 0) return false; // a gap, which is no number
    buffer.forward();
    return true;
}

double Segments::densityScale(std::size_t line, double interval) const
{
    return (line == 0 || line + 1 == lines() ? 1 : 2) * interval / m_squares;
}

std::size_t segmentFor(double resolution, Window window, double interval)
{
    const double wanted = windowNoiseBandwidth(window) / (resolution * interval);
    if (!(wanted <= double(longestSegment))) return 0;
    return std::min(longestSegment, quickLength(std::size_t(std::ceil(std::max(8.0, wanted)))));
}

std::size_t usualSegment(SampleRange range, std::size_t most)
{
    return std::min(most, std::bit_floor(std::size_t(std::max<std::int64_t>(8, range.size())) / 4));
}

} // namespace fulvex
