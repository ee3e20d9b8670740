#include "freed_memory.h"

#include "kept_columns.h"

#include <malloc.h>
#include <unistd.h>

namespace fulvex {

void keepFreedMemory()
{
    constexpr int large = 32 << 20; // bytes, the most that the allocator takes
    ::mallopt(M_MMAP_THRESHOLD, large);
    ::mallopt(M_TRIM_THRESHOLD, 2 * large);
    constexpr std::size_t share = 32; // of the memory
    const long pages = ::sysconf(_SC_PHYS_PAGES), size = ::sysconf(_SC_PAGESIZE);
    if (pages > 0 && size > 0) keptColumns().keepUpTo(std::size_t(pages) * std::size_t(size) / share);
}

void giveFreedMemoryBack()
{
    keptColumns().freeAll();
    ::malloc_trim(0);
}

} // namespace fulvex
