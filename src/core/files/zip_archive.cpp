#include "zip_archive.h"

#include "error.h"

#include <cstring>

namespace fulvex {

bool looksLikeZip(std::span<const std::byte> head)
{
    return head.size() >= 4 && std::memcmp(head.data(), "PK\x03\x04", 4) == 0;
}

ZipArchive openZip(const MappedFile &file)
{
    zip_error_t failure;
    zip_error_init(&failure);
    zip_source_t *source = zip_source_buffer_create(file.bytes().data(), file.bytes().size(), 0, &failure);
    zip_t *zip = source ? zip_open_from_source(source, ZIP_RDONLY, &failure) : nullptr;
    const std::string why = zip ? "" : zip_error_strerror(&failure);
    zip_error_fini(&failure);
    if (zip) return ZipArchive(zip);
    if (source) zip_source_free(source);
    throw Error(file.path().string(), "is not a whole ZIP archive: " + why,
                "the file is truncated or damaged: copy or export it again");
}

} // namespace fulvex
