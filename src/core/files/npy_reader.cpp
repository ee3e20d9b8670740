#include "npy_reader.h"

#include "error.h"

#include <algorithm>
#include <bit>
#include <charconv>
#include <cstring>
#include <map>

namespace fulvex {

namespace {

constexpr std::string_view magic("\x93NUMPY", 6);

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

/// Gives the bytes of an element.
std::int64_t parseType(std::string_view text, ArrayShape &shape, const std::string &name)
{
    static const std::map<std::string_view, SampleType> types{
        {"i1", SampleType::i8},  {"u1", SampleType::u8},  {"b1", SampleType::u8},  {"i2", SampleType::i16},
        {"u2", SampleType::u16}, {"i4", SampleType::i32}, {"u4", SampleType::u32}, {"i8", SampleType::i64},
        {"u8", SampleType::u64}, {"f2", SampleType::f16}, {"f4", SampleType::f32}, {"f8", SampleType::f64}};
    const std::size_t close = text.size() > 1 ? text.find(text.front(), 1) : std::string_view::npos;
    const std::string_view descr = close == std::string_view::npos ? "" : text.substr(1, close - 1);
    const bool complex = descr.ends_with("c8") || descr.ends_with("c16");
    const std::string_view part = descr.ends_with("c8") ? "f4"
                                  : complex             ? "f8"
                                                        : descr.substr(std::min<std::size_t>(1, descr.size()));
    const auto found = descr.size() == 3 || complex ? types.find(part) : types.end();
    if (found == types.end())
        throw Error(name + ": byte 10",
                    "holds elements of type " + std::string(text.substr(0, text.find_first_of(",}"))),
                    "save it as integers or floats of up to 8 bytes, or complex numbers of them");
    shape.type = found->second;
    const auto size = std::int64_t(sampleSize(shape.type));
    shape.imaginary = complex ? size : 0;
    constexpr bool little = std::endian::native == std::endian::little;
    shape.swapped = (descr.front() == '>' && little) || (descr.front() == '<' && !little);
    return size + shape.imaginary;
}

void parseSizes(std::string_view text, ArrayShape &shape, const std::string &name)
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
        shape.sizes.push_back(size);
        at = next;
    }
    constexpr std::size_t mostDimensions = 8;
    if (shape.sizes.size() > mostDimensions)
        throw Error(name, "has " + std::to_string(shape.sizes.size()) + " dimensions",
                    "save it with at most " + std::to_string(mostDimensions));
}

void parseHeader(std::span<const std::byte> bytes, ArrayShape &shape, const std::string &name)
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
    shape.offset = fixed + length;
    const std::int64_t element = parseType(entry(dictionary, "descr", name), shape, name);
    parseSizes(entry(dictionary, "shape", name), shape, name);
    const bool empty = std::find(shape.sizes.begin(), shape.sizes.end(), 0) != shape.sizes.end();
    if (!empty && shape.elements() * double(element) > double(bytes.size() - shape.offset)) {
        std::string sizes;
        for (const std::int64_t size : shape.sizes) sizes += (sizes.empty() ? "" : " x ") + std::to_string(size);
        throw Error(name,
                    "should hold " + sizes + " samples of " + std::to_string(element) + " bytes, but only " +
                        std::to_string(bytes.size() - shape.offset) + " bytes follow the header",
                    "the file is truncated: copy or export it again");
    }
    if (!empty) shape.packed(element, entry(dictionary, "fortran_order", name).starts_with("True"));
}

} // namespace

bool looksLikeNpy(std::span<const std::byte> head)
{
    return head.size() >= magic.size() && std::memcmp(head.data(), magic.data(), magic.size()) == 0;
}

ArrayShape parseNpy(std::span<const std::byte> bytes, const std::string &name)
{
    if (!looksLikeNpy(bytes))
        throw Error(name + ": byte 0", "does not start as a NumPy array", "set another \"format\"");
    ArrayShape shape;
    parseHeader(bytes, shape, name);
    if (std::find(shape.sizes.begin(), shape.sizes.end(), 0) != shape.sizes.end())
        shape.sizes = {0}; // whatever others are
    checkColumns(std::size_t(shape.columns()), name, "save the channels in several arrays");
    return shape;
}

Capture readNpy(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &)
{
    const std::string name = file->path().string();
    const ArrayShape shape = parseNpy(file->bytes(), name);
    if (shape.samples() == 0) throw Error(name, "holds no samples", "check that the export finished");
    Capture capture;
    capture.columns = columnsOf(shape, file);
    capture.axis.count = shape.samples();
    capture.intervalKnown = false;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
