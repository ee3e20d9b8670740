#pragma once

#include "waveform.h"

namespace fulvex {

/// Where samples of one type lie in a file.
struct SampleLayout {
    SampleType type = SampleType::i16;
    bool swapped = false;
    std::size_t offset = 0;   ///< bytes before the first sample
    std::int64_t samples = 0; ///< per channel
    std::int64_t channels = 1;
    std::int64_t sampleStride = 0, channelStride = 0; ///< bytes; both 0: the channels' samples in turn, without space
};

/// One waveform per channel, left in the file. The layout must lie within it.
std::vector<Waveform> mappedColumns(const std::shared_ptr<const MappedFile> &file, SampleLayout layout);
/// The same in memory that `owner` keeps.
std::vector<Waveform> columnsIn(std::shared_ptr<const void> owner, std::span<const std::byte> bytes,
                                SampleLayout layout);

/// Whether a byte order stated in a file is not this machine's.
bool isSwapped(bool bigEndian);

/// Fills layout.samples from the bytes behind layout.offset. Throws Error when not one whole set of samples is there;
/// `remarks` tells of bytes left over.
void fillLayout(SampleLayout &layout, std::size_t bytes, const std::string &name, std::vector<std::string> &remarks);

} // namespace fulvex
