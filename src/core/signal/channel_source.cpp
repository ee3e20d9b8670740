#include "channel_source.h"

#include <cmath>
#include <limits>

namespace fulvex {

ChannelSource::ChannelSource(Waveform waveform, TimeAxis axis, double scale, double offset, double delay)
    : m_waveform(std::move(waveform)), m_axis(axis), m_scale(scale), m_offset(offset)
{
    m_axis.count = m_waveform.count;
    m_axis.shift += delay;
    const double largest = m_waveform.type == SampleType::f64   ? std::numeric_limits<double>::max()
                           : m_waveform.type == SampleType::f32 ? double(std::numeric_limits<float>::max())
                                                                : 1.9e19; // of 64 bits
    m_overflows = !std::isfinite(
        (largest * std::abs(m_waveform.scale) + std::abs(m_waveform.offset)) * std::abs(scale) + std::abs(offset));
}

void ChannelSource::read(std::int64_t first, std::span<double> out) const
{
    m_waveform.readScaled(first, out, m_scale, m_offset);
    if (!m_overflows) return;
    for (double &value : out) {
        if (!std::isfinite(value)) value = std::numeric_limits<double>::quiet_NaN();
    }
}

std::optional<CodeScale> ChannelSource::codeScale() const
{
    // As readScaled() puts both scales together.
    const bool wide = m_waveform.hasWideCodes();
    const CodeScale scale{m_waveform.scale * m_scale, m_waveform.offset * m_scale + m_offset, wide};
    if (!(m_waveform.hasCodes() || wide) || m_overflows || scale.step == 0) return std::nullopt;
    return scale;
}

void ChannelSource::extents(SampleRange range, std::int64_t block, std::span<Extent> out) const
{
    if (!m_waveform.extents(range, block, out, m_scale, m_offset)) SampleSource::extents(range, block, out);
}

double ChannelSource::resolution() const
{
    return isInteger(m_waveform.type) ? std::abs(m_scale * m_waveform.scale) : 0;
}

SourcePtr makeMemorySource(std::vector<double> values, double interval, double start)
{
    Waveform waveform = makeWaveform({}, std::move(values));
    const TimeAxis axis{start, interval, waveform.count};
    return std::make_shared<ChannelSource>(std::move(waveform), axis, 1, 0, 0);
}

} // namespace fulvex
