#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// Counters that are all zero at first. Making so many zeros costs as much as counting a short record does, so those
/// that were made zeros again are kept for the next one, a few megabytes of them. From any thread.
class LentZeros {
public:
    explicit LentZeros(std::size_t size);
    LentZeros(LentZeros &&) noexcept = default;
    LentZeros &operator=(LentZeros &&) noexcept = default;
    ~LentZeros() = default;
    std::span<std::uint32_t> all() { return std::span(m_zeros).first(m_size); }
    std::span<const std::uint32_t> all() const { return std::span(m_zeros).first(m_size); }
    /// All of them are zero again; there are none afterwards.
    void giveBack();

private:
    std::vector<std::uint32_t> m_zeros;
    std::size_t m_size;
};

} // namespace fulvex
