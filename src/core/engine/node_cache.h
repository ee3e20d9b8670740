#pragma once

#include "node_bytes.h"

#include <chrono>
#include <functional>
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <unordered_map>
#include <unordered_set>

namespace fulvex {

/// Results of computations, found by what they were computed from: a key names the computation and the keys of its
/// inputs, so that a change of a clock leaves the edges it stands on where they are. Keeps to a budget in bytes: where
/// it is passed, what was not used for longest goes first, and what many runs did not use (it may hold a file open) as
/// well; what the present run used, and the last that came to its end (it is what is shown), stays whatever that takes.
/// Thread-safe; a computation that throws leaves nothing behind.
class NodeCache {
public:
    /// An eighth of the machine's memory.
    static std::size_t defaultBudget();
    explicit NodeCache(std::size_t budget = defaultBudget()) : m_budget(budget) {}

    /// `passing`: nobody asks for it once this run has come to its end.
    template <typename T>
    std::shared_ptr<const T> get(const std::string &key, const std::function<T()> &make, bool passing = false)
    {
        if (auto known = find(key, passing)) return std::static_pointer_cast<const T>(known);
        const Stopwatch watch(*this, key);
        auto made = std::make_shared<const T>(make());
        put(key, made, bytesOf(*made), passing);
        return made;
    }
    /// What is there already, or null.
    template <typename T>
    std::shared_ptr<const T> peek(const std::string &key)
    {
        return std::static_pointer_cast<const T>(find(key, true));
    }
    /// Forgets an entry.
    void drop(const std::string &key);

    /// Forgets all.
    void clear();
    void beginRun();
    void endRun();                             ///< it came to its end: what it used stays until the next one has
    static constexpr std::size_t longest = 64; ///< runs that did not use an entry, after which it goes in any case

    /// What the computations of one kind took, their inputs' not counted.
    struct Cost {
        std::size_t computations = 0;
        double seconds = 0;
    };
    std::map<std::string, Cost> costs() const; ///< by kind: what stands before the dash of a key
    std::size_t computations() const;          ///< how many entries were ever made
    std::size_t bytes() const;                 ///< of what is kept

private:
    /// Times a computation but for those that it asks for.
    class Stopwatch {
    public:
        Stopwatch(NodeCache &cache, const std::string &key);
        ~Stopwatch();
        Stopwatch(const Stopwatch &) = delete;
        Stopwatch &operator=(const Stopwatch &) = delete;

    private:
        NodeCache &m_cache;
        std::string m_kind;
        Stopwatch *m_outer;
        std::chrono::steady_clock::time_point m_start;
        double m_inner = 0; ///< s
        static thread_local Stopwatch *innermost;
    };
    struct Entry {
        std::string key;
        std::shared_ptr<const void> value;
        std::size_t bytes;
        std::size_t run; ///< that used it last
        bool passing;
    };
    std::shared_ptr<const void> find(const std::string &key, bool passing);
    void put(const std::string &key, std::shared_ptr<const void> value, std::size_t bytes, bool passing);
    std::list<Entry>::iterator forget(std::list<Entry>::iterator entry); ///< the one behind it
    void keepToBudget();
    const std::size_t m_budget;
    mutable std::mutex m_mutex;
    std::list<Entry> m_entries; ///< used last in front
    std::unordered_map<std::string, std::list<Entry>::iterator> m_places;
    std::unordered_set<std::string> m_shown; ///< used by the last run that came to its end
    std::map<std::string, Cost> m_costs;
    std::size_t m_run = 0, m_bytes = 0;
};

/// What was computed and what it took, dearest first, a line a kind.
std::string costText(const NodeCache &cache);

} // namespace fulvex
