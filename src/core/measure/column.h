#pragma once

#include <algorithm>
#include <cstddef>
#include <memory>
#include <utility>
#include <vector>

namespace fulvex {

/// A list of numbers that does not change, and that many may hold at no cost: its own, or a view of another's, every
/// so many of them, times a factor.
class Column {
public:
    Column() = default;
    /// Numbers of its own.
    template <typename Allocator = std::allocator<double>>
    explicit Column(std::vector<double, Allocator> numbers)
    {
        const auto own = std::make_shared<const std::vector<double, Allocator>>(std::move(numbers));
        *this = view(own, own->data(), own->size());
        m_isView = false;
    }
    /// As many times the same.
    static Column constant(double number, std::size_t count);
    /// Of numbers that `owner` keeps: `count` of them, each `step` behind the one before.
    static Column view(std::shared_ptr<const void> owner, const double *first, std::size_t count, std::size_t step = 1);
    /// A view of this one, each times `factor`.
    Column times(double factor) const;

    /// A view of `count` of them from index `first` on.
    Column part(std::size_t first, std::size_t count) const;
    std::size_t size() const { return m_count; }
    double operator[](std::size_t i) const { return m_first[i * m_step] * m_factor; }
    double front() const { return (*this)[0]; }
    double back() const { return (*this)[m_count - 1]; }
    /// Calls use(number) for those from index `first` to before `last`.
    template <typename Use>
    void each(std::size_t first, std::size_t last, Use &&use) const
    {
        if (m_step == 1)
            for (std::size_t i = first; i < last; ++i) use(m_first[i] * m_factor);
        else
            for (std::size_t i = first; i < last; ++i) use((*this)[i]);
    }
    /// Of an ascending one: index of the first number that is not below, or above, a limit; size() where none is.
    std::size_t firstNotBelow(double limit) const
    {
        return firstThat([&](double number) { return number >= limit; });
    }
    std::size_t firstAbove(double limit) const
    {
        return firstThat([&](double number) { return number > limit; });
    }
    std::size_t ownBytes() const { return m_isView ? 0 : m_count * sizeof(double); } ///< of memory; a view has none
    bool operator==(const Column &other) const;

private:
    template <typename Holds>
    std::size_t firstThat(const Holds &holds) const
    {
        std::size_t low = 0, high = m_count;
        while (low < high) {
            const std::size_t middle = low + (high - low) / 2;
            if (holds((*this)[middle]))
                high = middle;
            else
                low = middle + 1;
        }
        return low;
    }
    std::shared_ptr<const void> m_owner;
    const double *m_first = nullptr;
    std::size_t m_count = 0, m_step = 1;
    double m_factor = 1;
    bool m_isView = false;
};

} // namespace fulvex
