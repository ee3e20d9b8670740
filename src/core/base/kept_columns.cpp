#include "kept_columns.h"

#include <cstdlib>

namespace fulvex {

void KeptColumns::keepUpTo(std::size_t bytes)
{
    const std::scoped_lock lock(m_mutex);
    m_most = bytes;
    freeDownTo(bytes);
}

void *KeptColumns::take(std::size_t bytes)
{
    const std::scoped_lock lock(m_mutex);
    auto best = m_kept.end();
    for (auto at = m_kept.begin(); at != m_kept.end(); ++at) {
        const bool fits = at->bytes >= bytes && at->bytes - bytes <= bytes / 4;
        if (fits && (best == m_kept.end() || at->bytes < best->bytes)) best = at;
    }
    if (best == m_kept.end()) return nullptr;
    void *const column = best->place;
    m_bytes -= best->bytes;
    m_kept.erase(best);
    return column;
}

void KeptColumns::keep(void *column, std::size_t bytes)
{
    const std::scoped_lock lock(m_mutex);
    if (bytes > m_most) return std::free(column); // and those that are kept stay
    m_kept.push_back({column, bytes});
    m_bytes += bytes;
    freeDownTo(m_most);
}

void KeptColumns::freeAll()
{
    const std::scoped_lock lock(m_mutex);
    freeDownTo(0);
}

void KeptColumns::freeDownTo(std::size_t bytes)
{
    std::size_t freed = 0;
    for (; m_bytes > bytes; ++freed) {
        std::free(m_kept[freed].place);
        m_bytes -= m_kept[freed].bytes;
    }
    m_kept.erase(m_kept.begin(), m_kept.begin() + std::ptrdiff_t(freed));
}

KeptColumns &keptColumns()
{
    static auto *const all = new KeptColumns; // never ended, since columns may be freed behind everything else
    return *all;
}

} // namespace fulvex
