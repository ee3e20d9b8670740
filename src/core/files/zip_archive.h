#pragma once

#include "mapped_file.h"

#include <memory>
#include <span>
#include <zip.h>

namespace fulvex {

struct ZipCloser {
    void operator()(zip_t *zip) const { zip_discard(zip); }
    void operator()(zip_file_t *entry) const { zip_fclose(entry); }
};
using ZipArchive = std::unique_ptr<zip_t, ZipCloser>; ///< closed without writing
using ZipEntry = std::unique_ptr<zip_file_t, ZipCloser>;

bool looksLikeZip(std::span<const std::byte> head);

/// Opens an archive for reading; `file` must outlive it. Throws Error where it is none, or not whole.
ZipArchive openZip(const MappedFile &file);

} // namespace fulvex
