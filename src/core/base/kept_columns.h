#pragma once

#include <cstddef>
#include <mutex>
#include <vector>

namespace fulvex {

/// Large pieces of memory that were freed lately, for those that are asked for next: pages that the system gives have
/// to be cleared, which costs as much as filling them. None is kept until it is said how much may be. From any thread.
class KeptColumns {
public:
    ~KeptColumns() { freeAll(); }
    /// Bytes at most, from now on.
    void keepUpTo(std::size_t bytes);
    /// One of so many bytes or a quarter more; null where there is none.
    void *take(std::size_t bytes);
    /// One that free() can free. The oldest go where there are too many.
    void keep(void *column, std::size_t bytes);
    void freeAll();

private:
    struct Column {
        void *place;
        std::size_t bytes;
    };
    void freeDownTo(std::size_t bytes);
    std::mutex m_mutex;
    std::vector<Column> m_kept; ///< the oldest first
    std::size_t m_bytes = 0, m_most = 0;
};

/// Those of RawVector.
KeptColumns &keptColumns();

} // namespace fulvex
