#include "node_cache.h"

namespace fulvex {

void NodeCache::nextGeneration()
{
    const std::lock_guard lock(m_mutex);
    ++m_generation;
    std::erase_if(m_entries, [&](const auto &entry) { return entry.second.used + 2 < m_generation; });
}

void NodeCache::drop(const std::string &key)
{
    const std::lock_guard lock(m_mutex);
    m_entries.erase(key);
}

std::shared_ptr<const void> NodeCache::find(const std::string &key)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_entries.find(key);
    if (found == m_entries.end()) return nullptr;
    found->second.used = m_generation;
    return found->second.value;
}

void NodeCache::put(const std::string &key, std::shared_ptr<const void> value)
{
    const std::lock_guard lock(m_mutex);
    m_entries[key] = {std::move(value), m_generation};
    ++m_computations;
}

} // namespace fulvex
