#include "hdf5_reader.h"

#include "array_shape.h"
#include "error.h"
#include "hdf5_handle.h"
#include "mapped_columns.h"
#include "memory_budget.h"
#include "reader_process.h"
#include "stated_facts.h"
#include "time_facts.h"

#include <cstring>

namespace fulvex {

namespace {

constexpr std::size_t mostDatasets = 4096;
constexpr int mostDimensions = 8;

/// The type of samples that an HDF5 type is, if it is one as it lies; `swapped` by its byte order.
std::optional<SampleType> storedType(hid_t type, bool &swapped)
{
    const std::size_t size = H5Tget_size(type);
    swapped = size > 1 && isSwapped(H5Tget_order(type) == H5T_ORDER_BE);
    using enum SampleType;
    if (H5Tget_class(type) == H5T_INTEGER && H5Tget_precision(type) == 8 * size && H5Tget_offset(type) == 0) {
        const bool isSigned = H5Tget_sign(type) == H5T_SGN_2;
        switch (size) {
        case 1:
            return isSigned ? i8 : u8;
        case 2:
            return isSigned ? i16 : u16;
        case 4:
            return isSigned ? i32 : u32;
        case 8:
            return isSigned ? i64 : u64;
        }
    }
    if (H5Tequal(type, H5T_IEEE_F32LE) > 0 || H5Tequal(type, H5T_IEEE_F32BE) > 0) return f32;
    if (H5Tequal(type, H5T_IEEE_F64LE) > 0 || H5Tequal(type, H5T_IEEE_F64BE) > 0) return f64;
    return {};
}

/// The type of the parts of complex numbers, as a compound of two floats, real and imaginary; `apart`: bytes between.
std::optional<SampleType> complexType(hid_t type, bool &swapped, std::int64_t &apart)
{
    if (H5Tget_class(type) != H5T_COMPOUND || H5Tget_nmembers(type) != 2) return {};
    std::optional<SampleType> parts[2];
    for (unsigned i = 0; i < 2; ++i) {
        char *name = H5Tget_member_name(type, i);
        const bool fits = name && std::tolower(static_cast<unsigned char>(*name)) == (i == 0 ? 'r' : 'i');
        H5free_memory(name);
        const Hdf5Handle member(H5Tget_member_type(type, i), H5Tclose);
        bool order = false;
        if (fits) parts[i] = storedType(member.id(), order);
        if (i == 1 && order != swapped) return {};
        swapped = order;
    }
    apart = std::int64_t(H5Tget_member_offset(type, 1)) - std::int64_t(H5Tget_member_offset(type, 0));
    const bool floats = parts[0] && parts[0] == parts[1] && !isInteger(*parts[0]);
    return floats && apart > 0 && H5Tget_member_offset(type, 0) == 0 ? parts[0] : std::nullopt;
}

std::optional<double> numberOf(hid_t attribute)
{
    const Hdf5Handle type(H5Aget_type(attribute), H5Tclose), space(H5Aget_space(attribute), H5Sclose);
    const H5T_class_t kind = H5Tget_class(type.id());
    double value = 0;
    if ((kind != H5T_INTEGER && kind != H5T_FLOAT) || H5Sget_simple_extent_npoints(space.id()) != 1 ||
        H5Aread(attribute, H5T_NATIVE_DOUBLE, &value) < 0)
        return {};
    return value;
}

std::string wordOf(hid_t attribute)
{
    const Hdf5Handle type(H5Aget_type(attribute), H5Tclose), space(H5Aget_space(attribute), H5Sclose);
    if (H5Tget_class(type.id()) != H5T_STRING || H5Sget_simple_extent_npoints(space.id()) != 1) return {};
    if (H5Tis_variable_str(type.id()) > 0) {
        char *text = nullptr;
        const Hdf5Handle memory(H5Tcopy(H5T_C_S1), H5Tclose);
        H5Tset_size(memory.id(), H5T_VARIABLE);
        H5Tset_cset(memory.id(), H5Tget_cset(type.id()));
        if (H5Aread(attribute, memory.id(), &text) < 0 || !text) return {};
        std::string word(text);
        H5free_memory(text);
        return word;
    }
    const std::size_t size = H5Tget_size(type.id());
    if (size > 256) return {};
    std::string word(size, '\0');
    if (H5Aread(attribute, type.id(), word.data()) < 0) return {};
    return word.substr(0, word.find('\0'));
}

struct Facts {
    std::optional<double> interval, start;
    std::string unit;
    std::vector<StatedFact> stated;
};

/// What an object's attributes say.
void takeAttributes(hid_t object, Facts &facts)
{
    const auto visit = [](hid_t place, const char *name, const H5A_info_t *, void *data) -> herr_t {
        auto &found = *static_cast<Facts *>(data);
        const Hdf5Handle attribute(H5Aopen(place, name, H5P_DEFAULT), H5Aclose);
        if (!attribute) return 0;
        const std::string word(name);
        if (word == "unit" || word == "units") found.unit = wordOf(attribute.id());
        const auto value = numberOf(attribute.id());
        addStated(found.stated, word, value ? numberText(*value) : wordOf(attribute.id()));
        if (value) {
            const auto fact = timeFact(word, *value);
            if (fact && fact->kind == TimeFact::Kind::interval) found.interval = fact->value;
            if (fact && fact->kind == TimeFact::Kind::start) found.start = fact->value;
        }
        return 0;
    };
    hsize_t position = 0;
    H5Aiterate2(object, H5_INDEX_NAME, H5_ITER_INC, &position, visit, &facts);
}

/// What the groups above a dataset say, the nearest counting most, and then the dataset itself.
Facts factsOf(hid_t file, const std::string &path, hid_t dataset)
{
    Facts facts;
    for (std::size_t slash = 0; slash != std::string::npos; slash = path.find('/', slash + 1)) {
        const std::string above = slash == 0 ? "/" : path.substr(0, slash);
        const Hdf5Handle group(H5Gopen2(file, above.c_str(), H5P_DEFAULT), H5Gclose);
        if (group) takeAttributes(group.id(), facts);
    }
    facts.unit.clear();
    takeAttributes(dataset, facts);
    return facts;
}

class Reader {
public:
    Reader(const std::shared_ptr<const MappedFile> &file, hid_t id)
        : m_file(file), m_id(id), m_budget(file->path().string(), file->bytes().size())
    {
    }
    /// The dataset's array; nothing where it does not hold numbers.
    std::optional<NamedArray> read(const std::string &path, const std::vector<std::string> &datasets)
    {
        const Hdf5Handle dataset(H5Dopen2(m_id, path.c_str(), H5P_DEFAULT), H5Dclose);
        if (!dataset) return {};
        const Hdf5Handle space(H5Dget_space(dataset.id()), H5Sclose), type(H5Dget_type(dataset.id()), H5Tclose);
        const int rank = H5Sget_simple_extent_ndims(space.id());
        hsize_t sizes[mostDimensions] = {};
        if (rank < 0 || rank > mostDimensions || H5Sget_simple_extent_dims(space.id(), sizes, nullptr) < 0) return {};
        ArrayShape shape;
        auto sampleType = storedType(type.id(), shape.swapped);
        if (!sampleType) sampleType = complexType(type.id(), shape.swapped, shape.imaginary);
        if (!sampleType) return {};
        shape.type = *sampleType;
        constexpr hsize_t most = hsize_t(1) << 40;
        for (int i = 0; i < rank; ++i) {
            if (sizes[i] > most) return {};
            shape.sizes.push_back(std::int64_t(sizes[i]));
        }
        const double elements = shape.elements();
        if (elements == 0 || elements > double(most) || shape.columns() > ArrayShape::mostColumns) return {};

        const bool single = shape.samples() == 1; // it may state the sample interval
        NamedArray array;
        array.name = path;
        if (!datasets.empty() && !single && !isAskedFor(datasets, path)) return array;
        const std::size_t element = H5Tget_size(type.id()), bytes = std::size_t(elements) * element;
        if (const auto offset = contiguousAt(dataset.id(), bytes)) {
            shape.offset = *offset;
            shape.packed(std::int64_t(element), false);
            array.columns = columnsOf(shape, m_file);
        } else {
            const Hdf5Handle native(H5Tget_native_type(type.id(), H5T_DIR_ASCEND), H5Tclose);
            const std::size_t size = H5Tget_size(native.id());
            shape.swapped = false;
            if (shape.imaginary) shape.imaginary = std::int64_t(H5Tget_member_offset(native.id(), 1));
            shape.packed(std::int64_t(size), false);
            const auto memory =
                unpack(dataset.id(), space.id(), native.id(), rank, sizes, std::size_t(elements) * size, path);
            array.columns = columnsOf(shape, memory, *memory);
        }
        const Facts facts = factsOf(m_id, path, dataset.id());
        array.interval = facts.interval;
        array.start = facts.start;
        array.stated = facts.stated;
        for (Waveform &column : array.columns) column.unit = facts.unit;
        return array;
    }

private:
    std::optional<std::size_t> contiguousAt(hid_t dataset, std::size_t bytes) const
    {
        const Hdf5Handle plan(H5Dget_create_plist(dataset), H5Pclose);
        if (H5Pget_layout(plan.id()) != H5D_CONTIGUOUS || H5Pget_external_count(plan.id()) != 0) return {};
        const haddr_t offset = H5Dget_offset(dataset);
        const std::size_t all = m_file->bytes().size();
        if (offset == HADDR_UNDEF || offset > all || bytes > all - offset) return {};
        return std::size_t(offset);
    }
    /// All of it in this machine's byte order, row by row in slabs.
    std::shared_ptr<std::vector<std::byte>> unpack(hid_t dataset, hid_t space, hid_t native, int rank,
                                                   const hsize_t *sizes, std::size_t bytes, const std::string &path)
    {
        m_budget.take(double(bytes));
        auto memory = std::make_shared<std::vector<std::byte>>(bytes);
        const hsize_t rows = rank == 0 ? 1 : sizes[0];
        const std::size_t rowBytes = bytes / rows;
        const hsize_t step = std::max<hsize_t>(1, (1 << 20) / rowBytes);
        for (hsize_t row = 0; row < rows; row += step) {
            hsize_t start[mostDimensions] = {row}, count[mostDimensions] = {};
            std::copy_n(sizes, rank, count);
            count[0] = std::min(step, rows - row);
            const Hdf5Handle slab(H5Screate_simple(std::max(rank, 1), count, nullptr), H5Sclose);
            const bool whole = rank == 0;
            if (!whole) H5Sselect_hyperslab(space, H5S_SELECT_SET, start, nullptr, count, nullptr);
            if (H5Dread(dataset, native, whole ? H5S_ALL : slab.id(), whole ? H5S_ALL : space, H5P_DEFAULT,
                        memory->data() + row * rowBytes) < 0)
                throw Error(m_file->path().string() + ": \"" + path + "\"",
                            "cannot be unpacked from row " + std::to_string(row) + " on",
                            "it is damaged, or compressed in a way that is not read: save it with gzip or without");
        }
        return memory;
    }
    std::shared_ptr<const MappedFile> m_file;
    hid_t m_id;
    MemoryBudget m_budget;
};

/// Paths of all datasets, shallow first as the library visits them.
std::vector<std::string> datasetsIn(hid_t file)
{
    std::vector<std::string> paths;
    const auto visit = [](hid_t, const char *name, const H5O_info_t *facts, void *data) -> herr_t {
        auto &found = *static_cast<std::vector<std::string> *>(data);
        if (facts->type == H5O_TYPE_DATASET) found.push_back("/" + std::string(name));
        return found.size() < mostDatasets ? 0 : 1;
    };
    H5Ovisit2(file, H5_INDEX_NAME, H5_ITER_INC, visit, &paths, H5O_INFO_BASIC);
    return paths;
}

} // namespace

bool looksLikeHdf5(std::span<const std::byte> head)
{
    // At byte 0, or behind a user block of 512 bytes times a power of 2.
    for (std::size_t at = 0; at + 8 <= head.size(); at = at == 0 ? 512 : 2 * at) {
        if (std::memcmp(head.data() + at, "\x89HDF\r\n\x1a\n", 8) == 0) return true;
    }
    return false;
}

void unpackHdf5(const std::shared_ptr<const MappedFile> &file, const std::vector<std::string> &datasets,
                const ArraySink &sink)
{
    const std::string name = file->path().string();
    const auto lock = lockHdf5();
    const Hdf5Handle id(H5Fopen(name.c_str(), H5F_ACC_RDONLY, H5P_DEFAULT), H5Fclose);
    if (!id)
        throw Error(name, "cannot be opened as HDF5", "the file is truncated or damaged, or still open for writing");
    Reader reader(file, id.id());
    for (const std::string &path : datasetsIn(id.id())) {
        if (auto array = reader.read(path, datasets)) sink(*array);
    }
}

Capture readHdf5(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    return captureOf(file->path().string(), arraysByReader("hdf5", file, options, progress), options);
}

} // namespace fulvex
