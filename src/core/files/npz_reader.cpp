#include "npz_reader.h"

#include "error.h"
#include "memory_budget.h"
#include "named_arrays.h"
#include "npy_reader.h"
#include "zip_archive.h"

#include <algorithm>
#include <cstring>

namespace fulvex {

namespace {

std::shared_ptr<std::vector<std::byte>> unpack(zip_t *zip, const zip_stat_t &facts, const std::string &where,
                                               MemoryBudget &budget, Progress &progress)
{
    const ZipEntry entry(zip_fopen_index(zip, facts.index, 0));
    if (!entry) throw Error(where, "cannot be unpacked: " + std::string(zip_strerror(zip)), "export it again");
    auto bytes = std::make_shared<std::vector<std::byte>>();
    constexpr std::size_t step = 1 << 20;
    progress.expect(double(facts.size));
    while (bytes->size() < facts.size) { // grows by what is there, not by what the archive says
        const std::size_t had = bytes->size(), wanted = std::min<std::size_t>(step, facts.size - had);
        budget.take(double(wanted));
        bytes->resize(had + wanted);
        const zip_int64_t got = zip_fread(entry.get(), bytes->data() + had, wanted);
        if (got <= 0)
            throw Error(where,
                        "is damaged: it ends after " + std::to_string(had) + " of " + std::to_string(facts.size) +
                            " bytes",
                        "copy or export it again");
        bytes->resize(had + std::size_t(got));
        progress.advance(double(got));
    }
    return bytes;
}

/// Where an entry that is stored as it is lies in the file; 0 when that cannot be told.
std::size_t storedAt(const MappedFile &file, const std::string &name, const zip_stat_t &facts)
{
    // A local header has the name at byte 30 and the data behind name and extra field (APPNOTE 4.3.7).
    const auto bytes = file.bytes();
    const std::string_view all(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    for (std::size_t at = all.find("PK\x03\x04"); at != std::string_view::npos; at = all.find("PK\x03\x04", at + 4)) {
        if (at + 30 + name.size() > all.size()) return 0;
        const auto word = [&](std::size_t i) {
            return std::size_t(std::uint8_t(all[at + i])) | std::size_t(std::uint8_t(all[at + i + 1])) << 8;
        };
        const std::size_t data = at + 30 + word(26) + word(28);
        const bool fits = word(26) == name.size() && all.substr(at + 30, name.size()) == name;
        if (fits) return data <= all.size() && facts.size <= all.size() - data ? data : 0;
        if (word(6) & 8) continue; // its sizes stand behind it: look for the next signature
        const std::size_t packed = word(18) | word(20) << 16;
        if (packed != 0xFFFFFFFF && data + packed <= all.size()) at = data + packed - 4;
    }
    return 0;
}

NamedArray readEntry(zip_t *zip, const zip_stat_t &facts, const std::shared_ptr<const MappedFile> &file,
                     MemoryBudget &budget, Progress &progress)
{
    NamedArray array;
    array.name = facts.name;
    array.name.resize(array.name.size() - 4);
    const std::string where = file->path().string() + ": \"" + array.name + "\"";
    const std::size_t at = facts.comp_method == ZIP_CM_STORE ? storedAt(*file, facts.name, facts) : 0;
    if (at) {
        ArrayShape shape = parseNpy(file->bytes().subspan(at, facts.size), where);
        shape.offset += at;
        if (shape.samples() > 0) array.columns = columnsOf(shape, file);
        return array;
    }
    const auto bytes = unpack(zip, facts, where, budget, progress);
    const ArrayShape shape = parseNpy(*bytes, where);
    if (shape.samples() > 0) array.columns = columnsOf(shape, bytes, *bytes);
    return array;
}

} // namespace

Capture readNpz(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    const ZipArchive zip = openZip(*file);
    MemoryBudget budget(file->path().string(), file->bytes().size());
    std::vector<NamedArray> arrays;
    std::vector<std::string> remarks;
    const zip_int64_t entries = std::min<zip_int64_t>(zip_get_num_entries(zip.get(), 0), 4096);
    for (zip_int64_t i = 0; i < entries; ++i) {
        zip_stat_t facts;
        if (zip_stat_index(zip.get(), zip_uint64_t(i), 0, &facts) != 0) continue;
        constexpr zip_uint64_t needed = ZIP_STAT_NAME | ZIP_STAT_SIZE | ZIP_STAT_COMP_METHOD | ZIP_STAT_INDEX;
        if ((facts.valid & needed) != needed || !std::string_view(facts.name).ends_with(".npy")) continue;
        const std::string entry(facts.name, std::strlen(facts.name) - 4);
        const auto &wanted = options.datasets;
        constexpr zip_uint64_t oneNumber = 256; // with its header: it may state the sample interval
        if (!wanted.empty() && !isAskedFor(wanted, entry) && facts.size > oneNumber) {
            arrays.push_back({entry, {}, {}, {}});
            continue;
        }
        try {
            arrays.push_back(readEntry(zip.get(), facts, file, budget, progress));
        } catch (const Error &error) {
            if (!wanted.empty() && isAskedFor(wanted, entry)) throw;
            remarks.push_back(error.what()); // texts and objects lie beside samples
        }
    }
    if (arrays.empty() && !remarks.empty()) throw Error("", remarks[0]);
    Capture capture = captureOf(file->path().string(), std::move(arrays), options);
    capture.remarks.insert(capture.remarks.end(), remarks.begin(), remarks.end());
    return capture;
}

} // namespace fulvex
