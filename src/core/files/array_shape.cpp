#include "array_shape.h"

#include <algorithm>

namespace fulvex {

void ArrayShape::packed(std::int64_t elementBytes, bool firstIsFastest)
{
    strides.resize(sizes.size());
    std::int64_t stride = elementBytes;
    for (std::size_t i = 0; i < sizes.size(); ++i) {
        const std::size_t dimension = firstIsFastest ? i : sizes.size() - 1 - i;
        strides[dimension] = stride;
        stride *= sizes[dimension];
    }
}

double ArrayShape::elements() const
{
    double count = 1;
    for (const std::int64_t size : sizes) count *= double(size);
    return count;
}

std::size_t ArrayShape::samplesAlong() const
{
    return std::size_t(std::max_element(sizes.begin(), sizes.end()) - sizes.begin());
}

std::int64_t ArrayShape::samples() const
{
    return sizes.empty() ? 1 : sizes[samplesAlong()];
}

std::int64_t ArrayShape::columns() const
{
    double count = imaginary ? 2 : 1;
    for (std::size_t i = 0; i < sizes.size(); ++i)
        if (i != samplesAlong()) count *= double(sizes[i]);
    return std::int64_t(std::min(count, double(mostColumns + 1)));
}

std::vector<Waveform> columnsOf(const ArrayShape &shape, const std::shared_ptr<const void> &owner,
                                std::span<const std::byte> bytes)
{
    std::vector<Waveform> columns;
    const std::int64_t parts = shape.imaginary ? 2 : 1, count = shape.columns() / parts;
    const std::size_t along = shape.samplesAlong();
    for (std::int64_t column = 0; column < count; ++column) {
        std::int64_t at = std::int64_t(shape.offset), rest = column;
        std::string indices;
        for (std::size_t i = shape.sizes.size(); i-- > 0;) { // the last dimension fastest
            if (i == along) continue;
            const std::int64_t index = rest % shape.sizes[i];
            rest /= shape.sizes[i];
            at += index * shape.strides[i];
            indices = std::to_string(index) + (indices.empty() ? "" : "," + indices);
        }
        for (std::int64_t part = 0; part < parts; ++part) {
            Waveform &waveform = columns.emplace_back();
            if (count > 1) waveform.name = "[" + indices + "]";
            if (parts > 1) waveform.name += std::string(count > 1 ? " " : "") + (part ? "imaginary" : "real");
            waveform.type = shape.type;
            waveform.swapped = shape.swapped;
            waveform.count = shape.samples();
            waveform.stride = shape.sizes.empty() ? std::int64_t(sampleSize(shape.type)) : shape.strides[along];
            waveform.data = bytes.data() + at + part * shape.imaginary;
            waveform.owner = owner;
        }
    }
    return columns;
}

std::vector<Waveform> columnsOf(const ArrayShape &shape, const std::shared_ptr<const MappedFile> &file)
{
    std::vector<Waveform> columns = columnsOf(shape, file, file->bytes());
    for (Waveform &column : columns) column.mapping = file;
    return columns;
}

} // namespace fulvex
