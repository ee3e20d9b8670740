#include "lent_zeros.h"

#include "core_loop.h"

#include <mutex>
#include <utility>

namespace fulvex {

namespace {

struct Kept {
    std::mutex mutex;
    std::vector<std::vector<std::uint32_t>> zeros;
};

Kept &kept()
{
    static Kept all;
    return all;
}

} // namespace

LentZeros::LentZeros(std::size_t size) : m_size(size)
{
    {
        const std::lock_guard lock(kept().mutex);
        if (!kept().zeros.empty()) {
            m_zeros = std::move(kept().zeros.back());
            kept().zeros.pop_back();
        }
    }
    if (m_zeros.size() < size) m_zeros.resize(size);
}

void LentZeros::giveBack()
{
    constexpr std::size_t largest = 1 << 20;
    m_size = 0;
    const std::lock_guard lock(kept().mutex);
    if (m_zeros.size() <= largest && kept().zeros.size() < std::size_t(2 * coreCount()))
        kept().zeros.push_back(std::move(m_zeros));
    m_zeros = {};
}

} // namespace fulvex
