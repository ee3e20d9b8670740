#include "npy_writer.h"

#include "atomic_file.h"
#include "interleaved_blocks.h"
#include "npy_header.h"

namespace fulvex {

void writeNpy(const std::filesystem::path &path, std::span<const WrittenChannel> channels, SampleRange range,
              Progress &progress)
{
    AtomicFile file(path);
    file.write(npyHeader("<f8", range.size(), std::int64_t(channels.size())));
    interleavedBlocks(channels, range, progress, [&](std::int64_t, std::span<const double> block) {
        file.write({reinterpret_cast<const char *>(block.data()), block.size_bytes()});
    });
    file.commit();
}

} // namespace fulvex
