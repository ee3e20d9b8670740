#pragma once

#include "sample_source.h"
#include "waveform.h"

namespace fulvex {

/// A column of a capture as a channel: value = raw * scale + offset, every time later by delay.
class ChannelSource final : public SampleSource {
public:
    ChannelSource(Waveform waveform, TimeAxis axis, double scale, double offset, double delay);
    const TimeAxis &axis() const override { return m_axis; }
    void read(std::int64_t first, std::span<double> out) const override;
    std::optional<CodeScale> codeScale() const override;
    bool readCodes(std::int64_t first, std::span<std::int16_t> out) const override
    {
        return m_waveform.readCodes(first, out);
    }
    void readWideCodes(std::int64_t first, std::span<std::int32_t> out) const override
    {
        m_waveform.readWideCodes(first, out);
    }
    const std::int16_t *codesInPlace(std::int64_t first) const override { return m_waveform.codesInPlace(first); }
    void extents(SampleRange range, std::int64_t block, std::span<Extent> out) const override;
    void announce(SampleRange range) const override { m_waveform.announce(range); }
    void release(SampleRange range) const override { m_waveform.release(range); }
    bool mayHaveGaps() const override { return m_overflows || !isInteger(m_waveform.type); }
    double resolution() const override;

private:
    Waveform m_waveform;
    TimeAxis m_axis;
    double m_scale, m_offset;
    bool m_overflows; ///< a stored value may be beyond a double once scaled: a gap then
};

} // namespace fulvex
