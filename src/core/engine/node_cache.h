#pragma once

#include <functional>
#include <memory>
#include <mutex>
#include <string>
#include <unordered_map>

namespace fulvex {

/// Results of computations, found by what they were computed from: a key names the computation and the keys of its
/// inputs, so that a change of a clock leaves the edges it stands on where they are. Entries that two evaluations in
/// a row did not use are dropped. Thread-safe; a computation that throws leaves nothing behind.
class NodeCache {
public:
    template <typename T>
    std::shared_ptr<const T> get(const std::string &key, const std::function<T()> &make)
    {
        if (auto known = find(key)) return std::static_pointer_cast<const T>(known);
        auto made = std::make_shared<const T>(make());
        put(key, made);
        return made;
    }
    /// What is there already, or null.
    template <typename T>
    std::shared_ptr<const T> peek(const std::string &key)
    {
        return std::static_pointer_cast<const T>(find(key));
    }
    /// Forgets an entry.
    void drop(const std::string &key);
    /// Starts a new evaluation: what the last two did not use goes.
    void nextGeneration();
    std::size_t computations() const { return m_computations; } ///< how many entries were ever made

private:
    std::shared_ptr<const void> find(const std::string &key);
    void put(const std::string &key, std::shared_ptr<const void> value);
    struct Entry {
        std::shared_ptr<const void> value;
        std::size_t used;
    };
    std::mutex m_mutex;
    std::unordered_map<std::string, Entry> m_entries;
    std::size_t m_generation = 0, m_computations = 0;
};

} // namespace fulvex
