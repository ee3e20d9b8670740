#include "freed_memory.h"

#include <malloc.h>

namespace fulvex {

void keepFreedMemory()
{
    constexpr int large = 32 << 20; // bytes, the most that the allocator takes
    ::mallopt(M_MMAP_THRESHOLD, large);
    ::mallopt(M_TRIM_THRESHOLD, 2 * large);
}

void giveFreedMemoryBack()
{
    ::malloc_trim(0);
}

} // namespace fulvex
