#include "raw_vector.h"

#include <cstdlib>
#include <sys/mman.h>

namespace fulvex {

namespace {

constexpr std::size_t page = 2 << 20, large = 2 * page; // bytes

} // namespace

void *allocateColumn(std::size_t bytes)
{
    if (bytes < large) return ::operator new(bytes);
    const std::size_t whole = (bytes + page - 1) / page * page;
    void *column = std::aligned_alloc(page, whole);
    if (!column) throw std::bad_alloc();
    ::madvise(column, whole, MADV_HUGEPAGE); // where it fails, pages are as usual
    return column;
}

void freeColumn(void *column, std::size_t bytes)
{
    bytes < large ? ::operator delete(column) : std::free(column);
}

} // namespace fulvex
