#pragma once

#include <algorithm>
#include <cstddef>
#include <memory>
#include <utility>
#include <vector>

namespace fulvex {

/// A list of numbers that does not change, and that many may hold at no cost: its own, or a view of another's: every so
/// many of them, or how far each is from the one so many behind it, times a factor or dividing it.
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
    /// Of a view of plain numbers: from each to the one that lies `ahead` numbers behind it with its owner, which has
    /// to be there.
    Column differences(std::size_t ahead) const;
    /// A view of this one, each times `factor`; 1 over each.
    Column times(double factor) const;
    Column inverse() const;
    /// A view of `count` of them from index `first` on.
    Column part(std::size_t first, std::size_t count) const;

    std::size_t size() const { return m_count; }
    double operator[](std::size_t i) const
    {
        const double number = m_ahead ? m_first[i * m_step + m_ahead] - m_first[i * m_step] : m_first[i * m_step];
        return m_inverse ? m_factor / number : number * m_factor;
    }
    double front() const { return (*this)[0]; }
    double back() const { return (*this)[m_count - 1]; }
    /// Calls use(number) for those from index `first` to before `last`.
    template <typename Use>
    void each(std::size_t first, std::size_t last, Use &&use) const
    {
        const double factor = m_factor;
        const auto through = [&](const auto &number) { // one loop for each kind, without asking in it
            const double *at = m_first + first * m_step;
            if (m_step == 1)
                for (std::size_t i = first; i < last; ++i, ++at) use(number(at));
            else
                for (std::size_t i = first; i < last; ++i, at += m_step) use(number(at));
        };
        const std::size_t ahead = m_ahead;
        if (m_ahead && m_inverse)
            through([=](const double *at) { return factor / (at[ahead] - at[0]); });
        else if (m_ahead)
            through([=](const double *at) { return (at[ahead] - at[0]) * factor; });
        else if (m_inverse)
            through([=](const double *at) { return factor / *at; });
        else
            through([=](const double *at) { return *at * factor; });
    }
    /// Those from index `first` to before `last`, one behind the other.
    void copy(std::size_t first, std::size_t last, double *to) const
    {
        each(first, last, [&to](double number) { *to++ = number; });
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
    std::size_t m_count = 0, m_step = 1, m_ahead = 0; ///< m_ahead 0: the numbers themselves
    double m_factor = 1;
    bool m_inverse = false, m_isView = false;
};

} // namespace fulvex
