#pragma once

#include <atomic>
#include <cstddef>

namespace fulvex {

/// Keeps the program alive when a mapped file becomes shorter than its mapping, or its disk fails: the kernel answers
/// a read there with SIGBUS. While a guard lives, such a read in its range finds zeros instead, and torn() is true from
/// then on. Reads elsewhere are what they were. Any thread may read and ask.
class MappingGuard {
public:
    MappingGuard(const void *data, std::size_t size);
    ~MappingGuard(); ///< before the range is unmapped
    MappingGuard(const MappingGuard &) = delete;
    MappingGuard &operator=(const MappingGuard &) = delete;
    bool torn() const;

private:
    struct Slot;
    struct Registry;
    static Registry &registry();
    Slot *m_slot;
};

} // namespace fulvex
