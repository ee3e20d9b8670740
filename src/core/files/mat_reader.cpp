#include "mat_reader.h"

#include "array_shape.h"
#include "error.h"
#include "hdf5_handle.h"
#include "memory_budget.h"
#include "reader_process.h"

#include <cmath>
#include <cstring>
#include <matio.h>

namespace fulvex {

namespace {

constexpr int deepest = 4; ///< structures within structures

std::optional<SampleType> storedType(matio_classes kind)
{
    using enum SampleType;
    switch (kind) {
    case MAT_C_DOUBLE:
        return f64;
    case MAT_C_SINGLE:
        return f32;
    case MAT_C_INT8:
        return i8;
    case MAT_C_UINT8:
        return u8;
    case MAT_C_INT16:
        return i16;
    case MAT_C_UINT16:
        return u16;
    case MAT_C_INT32:
        return i32;
    case MAT_C_UINT32:
        return u32;
    case MAT_C_INT64:
        return i64;
    case MAT_C_UINT64:
        return u64;
    default:
        return {};
    }
}

double elementsOf(const matvar_t &variable)
{
    double count = 1;
    for (int i = 0; i < variable.rank; ++i) count *= double(variable.dims[i]);
    return count;
}

/// What reading a variable will take, its fields included.
double bytesOf(matvar_t &variable, int depth)
{
    if (variable.class_type != MAT_C_STRUCT) return elementsOf(variable) * (variable.isComplex ? 16 : 8);
    double bytes = 0;
    auto *const *fields = static_cast<matvar_t *const *>(variable.data);
    const double count = elementsOf(variable) * Mat_VarGetNumberOfFields(&variable);
    if (!fields || depth == 0) return count * 8;
    for (std::size_t i = 0; double(i) < count; ++i) bytes += fields[i] ? bytesOf(*fields[i], depth - 1) : 0;
    return bytes;
}

/// A line of text; empty for what is not one.
std::string wordsOf(const matvar_t &variable)
{
    if (variable.rank != 2 || variable.dims[0] != 1 || !variable.data) return {};
    const std::size_t count = std::min<std::size_t>(variable.dims[1], 1000);
    std::string words;
    for (std::size_t i = 0; i < count; ++i) {
        if (variable.data_size == 1 && variable.nbytes > i)
            words += static_cast<const char *>(variable.data)[i];
        else if (variable.data_size == 2 && variable.nbytes > 2 * i + 1) {
            const std::uint16_t letter = static_cast<const std::uint16_t *>(variable.data)[i];
            words += letter < 128 ? char(letter) : '?';
        }
    }
    return words;
}

/// Adds a variable's array, or the arrays in its fields. `owner` keeps all of it alive.
void addArrays(const std::shared_ptr<matvar_t> &owner, matvar_t &variable, const std::string &name, int depth,
               std::vector<NamedArray> &arrays)
{
    if (variable.class_type == MAT_C_STRUCT && elementsOf(variable) == 1 && depth > 0) {
        const unsigned count = Mat_VarGetNumberOfFields(&variable);
        char *const *names = Mat_VarGetStructFieldnames(&variable);
        auto *const *fields = static_cast<matvar_t *const *>(variable.data);
        for (unsigned i = 0; names && fields && i < count; ++i) {
            if (fields[i] && names[i]) addArrays(owner, *fields[i], name + "/" + names[i], depth - 1, arrays);
        }
        return;
    }
    if (variable.class_type == MAT_C_CHAR) {
        if (const std::string words = wordsOf(variable); !words.empty())
            arrays.push_back({{}, {}, {}, {}, {{name, words}}});
        return;
    }
    const auto type = storedType(variable.class_type);
    if (!type || variable.rank < 1 || variable.rank > 8 || variable.isLogical || !variable.data) return;
    ArrayShape shape;
    shape.type = *type;
    for (int i = 0; i < variable.rank; ++i) shape.sizes.push_back(std::int64_t(variable.dims[i]));
    const auto size = std::int64_t(sampleSize(*type));
    const double bytes = shape.elements() * double(size);
    if (shape.samples() == 0 || bytes == 0 || double(variable.nbytes) < bytes || variable.data_size != size) return;
    shape.packed(size, true);
    if (shape.columns() * (variable.isComplex ? 2 : 1) > ArrayShape::mostColumns) return;
    NamedArray array;
    array.name = name;
    const auto part = [&](const void *data) {
        return columnsOf(shape, owner, {static_cast<const std::byte *>(data), std::size_t(bytes)});
    };
    if (variable.isComplex) { // its two parts lie apart
        const auto *split = static_cast<const mat_complex_split_t *>(variable.data);
        if (!split->Re || !split->Im) return;
        const std::vector<Waveform> parts[] = {part(split->Re), part(split->Im)};
        for (std::size_t i = 0; i < parts[0].size(); ++i) {
            for (const bool imaginary : {false, true}) {
                Waveform &column = array.columns.emplace_back(parts[imaginary][i]);
                column.name += std::string(column.name.empty() ? "" : " ") + (imaginary ? "imaginary" : "real");
            }
        }
    } else {
        array.columns = part(variable.data);
    }
    arrays.push_back(std::move(array));
}

/// The library fills what is missing from a file that was cut short with whatever it has: the lengths that the file
/// itself states are held against it first. Level 5: elements of type and length behind 128 bytes; level 4: headers of
/// 20 bytes, name, samples.
void refuseTruncated(std::span<const std::byte> bytes, const std::string &name)
{
    const auto wordAt = [&](std::size_t at, bool big) {
        std::uint32_t value = 0;
        for (std::size_t i = 0; i < 4; ++i) value = value << 8 | std::uint32_t(bytes[at + (big ? i : 3 - i)]);
        return std::uint64_t(value);
    };
    const auto refuse = [&](std::uint64_t at, std::uint64_t wanted) {
        throw Error(name + ": byte " + std::to_string(at),
                    "should hold " + std::to_string(wanted) + " bytes from here on, but only " +
                        std::to_string(bytes.size() - at) + " follow",
                    "the file is truncated: copy or save it again");
    };
    const std::string_view mark = bytes.size() >= 128
                                      ? std::string_view(reinterpret_cast<const char *>(bytes.data()) + 124, 4)
                                      : std::string_view();
    if (mark == std::string_view("\x00\x01IM", 4) || mark == std::string_view("\x01\x00MI", 4)) {
        const bool big = mark[2] == 'M';
        for (std::uint64_t at = 128; at < bytes.size();) {
            if (at + 8 > bytes.size()) return refuse(at, 8);
            const std::uint64_t wanted = 8 + wordAt(at + 4, big);
            if (wanted > bytes.size() - at) refuse(at, wanted);
            at += wanted;
        }
    } else if (!mark.ends_with("IM") && !mark.ends_with("MI")) {
        static constexpr std::uint64_t sizes[] = {8, 4, 4, 2, 2, 1};
        const bool big = bytes.size() >= 4 && bytes[3] != std::byte(0) && bytes[0] == std::byte(0); // 1000 and up
        for (std::uint64_t at = 0; at < bytes.size();) {
            if (at + 20 > bytes.size()) return refuse(at, 20);
            const std::uint64_t type = wordAt(at, big) - (big ? 1000 : 0), element = type / 10 % 10;
            if (type > 52 || element > 5) return; // of another machine's numbers: the library knows
            const double samples = double(wordAt(at + 4, big)) * double(wordAt(at + 8, big)) *
                                   (wordAt(at + 12, big) ? 2 : 1) * double(sizes[element]);
            const double wanted = 20 + double(wordAt(at + 16, big)) + samples;
            if (wanted > double(bytes.size() - at)) refuse(at, std::uint64_t(std::min(wanted, 1e18)));
            at += std::uint64_t(wanted);
        }
    }
}

/// Type, rows, columns, imaginary part, length of the name with its final zero. The type of what a big-endian machine
/// wrote begins with 1.
bool looksLikeLevel4(std::span<const std::byte> head, bool big)
{
    if (head.size() < 21) return false;
    const auto word = [&](std::size_t at) {
        std::uint32_t value = 0;
        for (std::size_t i = 0; i < 4; ++i) value = value << 8 | std::uint32_t(head[at + (big ? i : 3 - i)]);
        return std::int64_t(std::int32_t(value));
    };
    const std::int64_t type = word(0) - (big ? 1000 : 0), rows = word(4), columns = word(8), imaginary = word(12),
                       length = word(16);
    if (type < 0 || type > 52 || type % 10 > 2 || rows < 1 || columns < 1 || imaginary < 0 || imaginary > 1)
        return false;
    if (length < 2 || length > 64 || 20 + std::size_t(length) > head.size()) return false;
    for (std::int64_t i = 0; i + 1 < length; ++i) {
        const char c = char(head[20 + std::size_t(i)]);
        if (!(std::isalnum(static_cast<unsigned char>(c)) || c == '_')) return false;
    }
    return head[20 + std::size_t(length) - 1] == std::byte(0);
}

} // namespace

bool looksLikeMat(std::span<const std::byte> head)
{
    if (head.size() >= 128) {
        const std::string_view mark(reinterpret_cast<const char *>(head.data()) + 124, 4);
        for (const std::string_view known : {std::string_view("\x00\x01IM", 4), std::string_view("\x01\x00MI", 4),
                                             std::string_view("\x00\x02IM", 4), std::string_view("\x02\x00MI", 4)})
            if (mark == known) return true;
    }
    return looksLikeLevel4(head, false) || looksLikeLevel4(head, true);
}

void unpackMat(const std::shared_ptr<const MappedFile> &file, const std::vector<std::string> &datasets,
               const ArraySink &sink)
{
    const std::string name = file->path().string();
    const auto lock = lockHdf5();
    Mat_LogInitFunc("", [](int, char *) {}); // what it has to say, the error below says
    const std::unique_ptr<mat_t, int (*)(mat_t *)> mat(Mat_Open(name.c_str(), MAT_ACC_RDONLY), Mat_Close);
    if (!mat) throw Error(name, "cannot be opened as a MAT-file", "the file is truncated or damaged: save it again");
    MemoryBudget budget(name, file->bytes().size());
    for (int count = 0; count < 4096; ++count) {
        const std::shared_ptr<matvar_t> variable(Mat_VarReadNextInfo(mat.get()), Mat_VarFree);
        if (!variable) break;
        if (!variable->name || (!storedType(variable->class_type) && variable->class_type != MAT_C_STRUCT &&
                                variable->class_type != MAT_C_CHAR))
            continue;
        budget.take(bytesOf(*variable, deepest));
        if (Mat_VarReadDataAll(mat.get(), variable.get()) != 0)
            throw Error(name + ": \"" + variable->name + "\"", "cannot be read",
                        "the file is truncated or damaged: save it again");
        std::vector<NamedArray> arrays;
        addArrays(variable, *variable, variable->name, deepest, arrays);
        for (NamedArray &array : arrays) {
            if (!datasets.empty() && array.count() > 1 && !isAskedFor(datasets, array.name)) array.columns.clear();
            sink(array);
        }
    }
}

Capture readMat(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    refuseTruncated(file->bytes(), file->path().string());
    return captureOf(file->path().string(), arraysByReader("mat", file, options, progress), options);
}

} // namespace fulvex
