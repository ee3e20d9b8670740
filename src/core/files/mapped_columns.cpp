#include "mapped_columns.h"

#include "error.h"

#include <bit>

namespace fulvex {

bool isSwapped(bool bigEndian)
{
    return bigEndian != (std::endian::native == std::endian::big);
}

std::vector<Waveform> mappedColumns(const std::shared_ptr<const MappedFile> &file, SampleLayout layout)
{
    std::vector<Waveform> columns = columnsIn(file, file->bytes(), layout);
    for (Waveform &column : columns) column.mapping = file;
    return columns;
}

std::vector<Waveform> columnsIn(std::shared_ptr<const void> owner, std::span<const std::byte> bytes,
                                SampleLayout layout)
{
    const auto size = std::int64_t(sampleSize(layout.type));
    if (layout.sampleStride == 0) layout.sampleStride = size * layout.channels;
    if (layout.channelStride == 0) layout.channelStride = size;
    std::vector<Waveform> columns(std::size_t(layout.channels));
    for (std::int64_t channel = 0; channel < layout.channels; ++channel) {
        Waveform &waveform = columns[std::size_t(channel)];
        waveform.type = layout.type;
        waveform.swapped = layout.swapped;
        waveform.count = layout.samples;
        waveform.stride = layout.sampleStride;
        waveform.data = bytes.data() + layout.offset + channel * layout.channelStride;
        waveform.owner = owner;
    }
    return columns;
}

void fillLayout(SampleLayout &layout, std::size_t bytes, const std::string &name, std::vector<std::string> &remarks)
{
    const std::size_t set = sampleSize(layout.type) * std::size_t(layout.channels);
    if (bytes < layout.offset + set)
        throw Error(name,
                    "has " + std::to_string(bytes) + " bytes: no sample of " + std::to_string(layout.channels) +
                        " channels in " + std::string(sampleTypeName(layout.type)) + " after " +
                        std::to_string(layout.offset) + " bytes of header",
                    "correct \"header_bytes\", \"interleave\" or \"sample_type\"");
    layout.samples = std::int64_t((bytes - layout.offset) / set);
    const std::size_t left = bytes - layout.offset - std::size_t(layout.samples) * set;
    if (left)
        remarks.push_back(std::to_string(left) + " bytes at the end are not a whole set of samples and are left out");
}

} // namespace fulvex
