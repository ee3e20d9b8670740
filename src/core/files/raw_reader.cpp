#include "raw_reader.h"

#include "error.h"
#include "mapped_columns.h"

#include <algorithm>

namespace fulvex {

namespace {

struct Block {
    std::size_t header = 0; ///< bytes of "#", digit and digits; 0: this is no block
    std::size_t length = 0; ///< bytes of data it announces
};

Block blockOf(std::span<const std::byte> bytes)
{
    const auto digit = [&](std::size_t i) {
        const int value = i < bytes.size() ? int(bytes[i]) - '0' : -1;
        return value <= 9 ? value : -1;
    };
    if (bytes.size() < 3 || bytes[0] != std::byte('#') || digit(1) < 1) return {};
    Block block{2 + std::size_t(digit(1)), 0};
    for (std::size_t i = 2; i < block.header; ++i) {
        if (digit(i) < 0) return {};
        block.length = block.length * 10 + std::size_t(digit(i));
    }
    return block;
}

} // namespace

bool looksLikeBlock(std::span<const std::byte> head)
{
    const Block block = blockOf(head);
    // A line "#12 …" of comment in a text is none: a block's data follow at once and have the length it says.
    return block.header > 0 && block.length > 0 && head.size() > block.header &&
           (head.size() < block.header + block.length || head.size() <= block.header + block.length + 2);
}

Capture readRaw(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &)
{
    const std::string name = file->path().string();
    std::size_t bytes = file->bytes().size();
    Capture capture;
    SampleLayout layout;
    if (options.headerBytes) {
        layout.offset = std::size_t(*options.headerBytes);
    } else if (const Block block = blockOf(file->bytes()); block.header && block.length) {
        layout.offset = block.header;
        if (block.length > bytes - block.header)
            throw Error(name + ": byte 2",
                        "the block should hold " + std::to_string(block.length) + " bytes, but only " +
                            std::to_string(bytes - block.header) + " follow",
                        "the file is truncated: copy or export it again");
        bytes = block.header + block.length;
    }
    if (!options.sampleType && layout.offset == 0)
        throw Error(name, "raw samples have no header that says their type", "give \"sample_type\"");
    if (!options.sampleType)
        capture.remarks.push_back("the block does not say what its bytes are: they are taken as i8, one channel");
    layout.type = options.sampleType.value_or(SampleType::i8);
    layout.swapped = isSwapped(options.bigEndian.value_or(false)) && sampleSize(layout.type) > 1;
    if (layout.type == SampleType::i24 && layout.swapped)
        throw Error(name, "three-byte samples are read little-endian only", "set \"byte_order\": \"little\"");
    layout.channels = options.interleave.value_or(1);
    fillLayout(layout, bytes, name, capture.remarks);
    if (layout.offset > 0)
        capture.facts.push_back({"header", std::to_string(layout.offset) + " bytes", 0, layout.offset});
    capture.facts.push_back({"first samples", std::string(sampleTypeName(layout.type)), layout.offset,
                             std::size_t(layout.channels) * sampleSize(layout.type)});
    capture.columns = mappedColumns(file, layout);
    capture.axis.count = layout.samples;
    capture.intervalKnown = false;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
