#include "memory_budget.h"

#include "error.h"

#include <algorithm>

namespace fulvex {

MemoryBudget::MemoryBudget(std::string file, std::size_t fileSize) : m_file(std::move(file)), m_left(allowed(fileSize))
{
}

double MemoryBudget::allowed(std::size_t fileSize)
{
    return std::max(256.0 * (1 << 20), 100.0 * double(fileSize));
}

void MemoryBudget::take(double bytes)
{
    m_left -= bytes;
    if (!(m_left >= 0))
        throw Error(m_file, "says that it unpacks to more than a hundred times its size",
                    "save it without compression, or with other numbers in its header");
}

} // namespace fulvex
