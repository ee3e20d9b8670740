#pragma once

#include <cstddef>
#include <string>

namespace fulvex {

/// Refuses to unpack more than a file can mean: 256 MiB are always allowed, beyond that a hundred times the file. So a
/// small file with a large number in it does not take the machine's memory.
class MemoryBudget {
public:
    MemoryBudget(std::string file, std::size_t fileSize);
    static double allowed(std::size_t fileSize);
    /// Before `bytes` more are unpacked. Throws Error.
    void take(double bytes);

private:
    std::string m_file;
    double m_left;
};

} // namespace fulvex
