#include "npy_reader.h"

#include "error.h"

#include <bit>
#include <charconv>
#include <cstring>
#include <map>

namespace fulvex {

namespace {

constexpr std::string_view magic("\x93NUMPY", 6);

struct Header {
    SampleType type = SampleType::f64;
    bool swapped = false, fortran = false;
    std::vector<std::int64_t> shape;
    std::size_t dataOffset = 0;
};

/// The value that follows 'key': in the header's literal dictionary, without what comes after it.
std::string_view entry(std::string_view dictionary, std::string_view key, const std::string &name)
{
    std::size_t at = std::string_view::npos;
    for (const char quote : {'\'', '"'}) {
        const std::string quoted = quote + std::string(key) + quote;
        if (at == std::string_view::npos) at = dictionary.find(quoted);
    }
    const std::size_t colon = at == std::string_view::npos ? at : dictionary.find(':', at);
    if (colon == std::string_view::npos)
        throw Error(name + ": byte 10", "the array's header has no '" + std::string(key) + "'", "export it again");
    std::string_view rest = dictionary.substr(colon + 1);
    while (!rest.empty() && rest.front() == ' ') rest.remove_prefix(1);
    return rest;
}

void parseType(std::string_view text, Header &header, const std::string &name)
{
    static const std::map<std::string_view, SampleType> types{
        {"i1", SampleType::i8},  {"u1", SampleType::u8},  {"b1", SampleType::u8},  {"i2", SampleType::i16},
        {"u2", SampleType::u16}, {"i4", SampleType::i32}, {"u4", SampleType::u32}, {"i8", SampleType::i64},
        {"u8", SampleType::u64}, {"f2", SampleType::f16}, {"f4", SampleType::f32}, {"f8", SampleType::f64}};
    const std::size_t close = text.size() > 1 ? text.find(text.front(), 1) : std::string_view::npos;
    const std::string_view descr = close == std::string_view::npos ? "" : text.substr(1, close - 1);
    const auto found = descr.size() == 3 ? types.find(descr.substr(1)) : types.end();
    if (found == types.end())
        throw Error(name + ": byte 10",
                    "holds elements of type " + std::string(text.substr(0, text.find_first_of(",}"))),
                    "save it as integers or floats of up to 8 bytes");
    header.type = found->second;
    constexpr bool little = std::endian::native == std::endian::little;
    header.swapped = (descr.front() == '>' && little) || (descr.front() == '<' && !little);
}

void parseShape(std::string_view text, Header &header, const std::string &name)
{
    const std::size_t close = text.find(')');
    if (text.empty() || text.front() != '(' || close == std::string_view::npos)
        throw Error(name + ": byte 10", "the array's shape cannot be read", "export it again");
    const char *at = text.data() + 1, *end = text.data() + close;
    while (at < end) {
        if (*at == ' ' || *at == ',') {
            ++at;
            continue;
        }
        std::int64_t size = 0;
        const auto [next, failure] = std::from_chars(at, end, size);
        if (failure != std::errc() || size < 0)
            throw Error(name + ": byte 10", "the array's shape cannot be read", "export it again");
        header.shape.push_back(size);
        at = next;
    }
    if (header.shape.size() > 2)
        throw Error(name, "has " + std::to_string(header.shape.size()) + " dimensions",
                    "save an array of one dimension (samples) or two (samples and channels)");
}

Header parseHeader(std::span<const std::byte> bytes, const std::string &name)
{
    const auto byte = [&](std::size_t i) { return std::size_t(bytes[i]); };
    const bool longLength = bytes.size() > 6 && byte(6) >= 2;
    const std::size_t fixed = longLength ? 12 : 10;
    if (bytes.size() < fixed)
        throw Error(name, "ends within the array's header (" + std::to_string(bytes.size()) + " bytes)",
                    "the file is truncated: copy or export it again");
    std::size_t length = byte(8) | byte(9) << 8;
    if (longLength) length |= byte(10) << 16 | byte(11) << 24;
    if (length > bytes.size() - fixed)
        throw Error(name + ": byte 8",
                    "the header should be " + std::to_string(length) + " bytes long, the file has " +
                        std::to_string(bytes.size() - fixed) + " left",
                    "the file is truncated: copy or export it again");
    const std::string_view dictionary(reinterpret_cast<const char *>(bytes.data()) + fixed, length);
    Header header;
    header.dataOffset = fixed + length;
    parseType(entry(dictionary, "descr", name), header, name);
    header.fortran = entry(dictionary, "fortran_order", name).starts_with("True");
    parseShape(entry(dictionary, "shape", name), header, name);
    return header;
}

} // namespace

bool looksLikeNpy(std::span<const std::byte> head)
{
    return head.size() >= magic.size() && std::memcmp(head.data(), magic.data(), magic.size()) == 0;
}

NpyArray parseNpy(std::span<const std::byte> bytes, const std::string &name)
{
    if (!looksLikeNpy(bytes))
        throw Error(name + ": byte 0", "does not start as a NumPy array", "set another \"format\"");
    const Header header = parseHeader(bytes, name);
    const auto size = std::int64_t(sampleSize(header.type));
    const std::int64_t rows = header.shape.empty() ? 1 : header.shape[0];
    const std::int64_t columns = header.shape.size() == 2 ? header.shape[1] : 1;
    const auto have = std::int64_t(bytes.size() - header.dataOffset);
    if (rows == 0 || columns == 0) return {}; // whatever the other is
    if (rows > have / size / columns)
        throw Error(name,
                    "should hold " + std::to_string(rows) + " x " + std::to_string(columns) + " samples of " +
                        std::to_string(size) + " bytes, but only " + std::to_string(have) + " bytes follow the header",
                    "the file is truncated: copy or export it again");
    const bool timeAlongRows = rows >= columns;
    NpyArray array;
    array.layout.type = header.type;
    array.layout.swapped = header.swapped;
    array.layout.offset = header.dataOffset;
    array.layout.samples = timeAlongRows ? rows : columns;
    array.layout.channels = timeAlongRows ? columns : rows;
    checkColumns(std::size_t(array.layout.channels), name, "save the channels in several arrays");
    const std::int64_t alongRows = header.fortran ? size : columns * size;
    const std::int64_t alongColumns = header.fortran ? rows * size : size;
    array.layout.sampleStride = timeAlongRows ? alongRows : alongColumns;
    array.layout.channelStride = timeAlongRows ? alongColumns : alongRows;
    array.scalar = header.shape.empty();
    return array;
}

Capture readNpy(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &)
{
    const std::string name = file->path().string();
    const NpyArray array = parseNpy(file->bytes(), name);
    if (array.layout.samples == 0 || array.layout.channels == 0)
        throw Error(name, "holds no samples", "check that the export finished");
    Capture capture;
    capture.columns = mappedColumns(file, array.layout);
    capture.axis.count = array.layout.samples;
    capture.intervalKnown = false;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
