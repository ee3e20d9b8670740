#include "node_cache.h"

#include "number_text.h"

#include <algorithm>
#include <unistd.h>

namespace fulvex {

thread_local NodeCache::Stopwatch *NodeCache::Stopwatch::innermost = nullptr;

NodeCache::Stopwatch::Stopwatch(NodeCache &cache, const std::string &key)
    : m_cache(cache), m_kind(key.substr(0, key.find('-'))), m_outer(innermost),
      m_start(std::chrono::steady_clock::now())
{
    innermost = this;
}

NodeCache::Stopwatch::~Stopwatch()
{
    const double all = std::chrono::duration<double>(std::chrono::steady_clock::now() - m_start).count();
    innermost = m_outer;
    if (m_outer) m_outer->m_inner += all;
    const std::lock_guard lock(m_cache.m_mutex);
    Cost &cost = m_cache.m_costs[m_kind];
    ++cost.computations;
    cost.seconds += all - m_inner;
}

std::size_t NodeCache::defaultBudget()
{
    const long pages = ::sysconf(_SC_PHYS_PAGES), size = ::sysconf(_SC_PAGESIZE);
    return pages > 0 && size > 0 ? std::size_t(pages) / 8 * std::size_t(size) : std::size_t(1) << 29;
}

void NodeCache::beginRun()
{
    const std::lock_guard lock(m_mutex);
    ++m_run;
}

void NodeCache::endRun()
{
    const std::lock_guard lock(m_mutex);
    m_shown.clear();
    for (auto at = m_entries.begin(); at != m_entries.end();) {
        if (at->passing) {
            at = forget(at);
            continue;
        }
        if (at->run == m_run) m_shown.insert(at->key);
        ++at;
    }
    keepToBudget();
}

void NodeCache::clear()
{
    const std::lock_guard lock(m_mutex);
    m_entries.clear();
    m_places.clear();
    m_shown.clear();
    m_bytes = 0;
}

void NodeCache::drop(const std::string &key)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_places.find(key);
    if (found != m_places.end()) forget(found->second);
}

std::list<NodeCache::Entry>::iterator NodeCache::forget(std::list<Entry>::iterator entry)
{
    m_bytes -= entry->bytes;
    m_places.erase(entry->key);
    return m_entries.erase(entry);
}

std::map<std::string, NodeCache::Cost> NodeCache::costs() const
{
    const std::lock_guard lock(m_mutex);
    return m_costs;
}

std::size_t NodeCache::computations() const
{
    const std::lock_guard lock(m_mutex);
    std::size_t all = 0;
    for (const auto &[kind, cost] : m_costs) all += cost.computations;
    return all;
}

std::size_t NodeCache::bytes() const
{
    const std::lock_guard lock(m_mutex);
    return m_bytes;
}

std::shared_ptr<const void> NodeCache::find(const std::string &key, bool passing)
{
    const std::lock_guard lock(m_mutex);
    const auto found = m_places.find(key);
    if (found == m_places.end()) return nullptr;
    found->second->run = m_run;
    found->second->passing &= passing;
    m_entries.splice(m_entries.begin(), m_entries, found->second);
    return found->second->value;
}

void NodeCache::put(const std::string &key, std::shared_ptr<const void> value, std::size_t bytes, bool passing)
{
    const std::lock_guard lock(m_mutex);
    if (const auto known = m_places.find(key); known != m_places.end()) { // another thread made the same
        passing &= known->second->passing;
        forget(known->second);
    }
    m_entries.push_front({key, std::move(value), bytes, m_run, passing});
    m_places[key] = m_entries.begin();
    m_bytes += bytes;
    keepToBudget();
}

void NodeCache::keepToBudget()
{
    for (auto at = m_entries.end(); at != m_entries.begin();) {
        --at;
        const bool old = at->run + longest < m_run;
        if (!old && m_bytes <= m_budget) break; // those before it were used later
        if (at->run == m_run || m_shown.contains(at->key)) continue;
        at = forget(at);
    }
}

std::string costText(const NodeCache &cache)
{
    const auto costs = cache.costs();
    std::vector<std::pair<std::string, NodeCache::Cost>> kinds(costs.begin(), costs.end());
    std::sort(kinds.begin(), kinds.end(),
              [](const auto &a, const auto &b) { return a.second.seconds > b.second.seconds; });
    std::string text = "computed " + std::to_string(cache.computations()) + " nodes, " +
                       fixedText(double(cache.bytes()) / 1e6, 1) + " MB of them kept\n";
    for (const auto &[kind, cost] : kinds)
        text += "  " + kind + ": " + std::to_string(cost.computations) + " in " + fixedText(cost.seconds, 3) + " s\n";
    return text;
}

} // namespace fulvex
