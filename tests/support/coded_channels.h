#pragma once

#include "channel_source.h"
#include "formula.h"

#include <memory>
#include <type_traits>
#include <vector>

namespace fulvex::test {

/// A channel of samples as a file holds them: each `every` samples apart, others of a file between them; the
/// first `late` (s).
template <typename T>
SourcePtr codedChannel(const std::vector<T> &samples, double scale, double offset, std::size_t every = 1,
                       double interval = 1e-9, double late = 0)
{
    auto stored = std::make_shared<std::vector<T>>(samples.size() * every, T(1));
    for (std::size_t i = 0; i < samples.size(); ++i) (*stored)[i * every] = samples[i];
    Waveform waveform;
    waveform.type = std::is_same_v<T, std::int8_t>     ? SampleType::i8
                    : std::is_same_v<T, std::uint8_t>  ? SampleType::u8
                    : std::is_same_v<T, std::int16_t>  ? SampleType::i16
                    : std::is_same_v<T, std::uint16_t> ? SampleType::u16
                                                       : SampleType::f32;
    waveform.data = reinterpret_cast<const std::byte *>(stored->data());
    waveform.stride = std::ptrdiff_t(every * sizeof(T));
    waveform.count = std::int64_t(samples.size());
    waveform.owner = stored;
    TimeAxis axis{0, interval, waveform.count};
    axis.shift = late;
    return std::make_shared<ChannelSource>(std::move(waveform), axis, scale, offset, 0);
}

/// What codedChannel() gives of these codes, to the last bit, as the difference of two legs; it needs 17 bits where a
/// code has more than 15. None is -32768.
inline SourcePtr fullRangeLegs(const std::vector<std::int16_t> &codes, double scale, double interval)
{
    std::vector<std::int16_t> others;
    for (const std::int16_t code : codes) others.push_back(std::int16_t(-code));
    const SourcePtr p = codedChannel(codes, scale / 2, 0, 1, interval),
                    n = codedChannel(others, scale / 2, 0, 1, interval);
    Progress progress;
    return Formula::parse("p - n").evaluate({[&](const std::string &id) { return id == "p" ? p : n; }, {}, {}},
                                            progress);
}

} // namespace fulvex::test
