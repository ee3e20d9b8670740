#include "raw_vector.h"

#include "kept_columns.h"

#include <cstdlib>
#include <sys/mman.h>

namespace fulvex {

namespace {

constexpr std::size_t page = 2 << 20, large = 2 * page; // bytes

std::size_t wholePages(std::size_t bytes)
{
    return (bytes + page - 1) / page * page;
}

} // namespace

void *allocateColumn(std::size_t bytes)
{
    if (bytes < large) return ::operator new(bytes);
    const std::size_t whole = wholePages(bytes);
    if (void *const kept = keptColumns().take(whole)) return kept;
    void *column = std::aligned_alloc(page, whole);
    if (!column) throw std::bad_alloc();
    ::madvise(column, whole, MADV_HUGEPAGE); // where it fails, pages are as usual
    return column;
}

void freeColumn(void *column, std::size_t bytes)
{
    bytes < large ? ::operator delete(column) : keptColumns().keep(column, wholePages(bytes));
}

} // namespace fulvex
