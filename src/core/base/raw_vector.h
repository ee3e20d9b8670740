#pragma once

#include <cstddef>
#include <memory>
#include <new>
#include <utility>
#include <vector>

namespace fulvex {

/// Memory for columns: large ones in pages of 2 MiB where the system has these, since each page that is touched first
/// costs as much as computing some hundred elements.
void *allocateColumn(std::size_t bytes);
void freeColumn(void *column, std::size_t bytes);

/// Leaves new elements as they were in memory where they are given no value.
template <typename T>
struct RawAllocator : std::allocator<T> {
    template <typename U>
    struct rebind {
        using other = RawAllocator<U>;
    };
    RawAllocator() = default;
    T *allocate(std::size_t count) { return static_cast<T *>(allocateColumn(count * sizeof(T))); }
    void deallocate(T *column, std::size_t count) { freeColumn(column, count * sizeof(T)); }
    template <typename U>
    RawAllocator(const RawAllocator<U> &)
    {
    }
    template <typename U>
    void construct(U *place)
    {
        ::new (static_cast<void *>(place)) U;
    }
    template <typename U, typename... From>
    void construct(U *place, From &&...from)
    {
        ::new (static_cast<void *>(place)) U(std::forward<From>(from)...);
    }
};

/// A vector for columns that many cores fill at once: resize() does not write to them on one core before.
template <typename T>
using RawVector = std::vector<T, RawAllocator<T>>;

} // namespace fulvex
