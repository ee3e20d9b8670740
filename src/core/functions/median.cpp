#include "functions.h"
#include "window_about.h"

#include <algorithm>
#include <bit>
#include <vector>

namespace fulvex {

namespace {

/// How many of each rank are in a window: a tree of sums, which finds the k-th by halving.
class Ranks {
public:
    explicit Ranks(std::size_t count) : m_sums(std::bit_ceil(count + 1)) {}
    void add(std::size_t rank, std::int32_t change)
    {
        m_count += change;
        for (std::size_t at = rank + 1; at < m_sums.size(); at += at & (~at + 1)) m_sums[at] += change;
    }
    std::int32_t count() const { return m_count; }
    /// The rank that lies at a place, counted from 0, in order.
    std::size_t at(std::int32_t place) const
    {
        std::size_t found = 0;
        for (std::size_t step = m_sums.size() / 2; step > 0; step /= 2) {
            if (m_sums[found + step] > place) continue;
            found += step;
            place -= m_sums[found];
        }
        return found;
    }

private:
    std::vector<std::int32_t> m_sums;
    std::int32_t m_count = 0;
};

class Median final : public WindowAbout {
public:
    using WindowAbout::WindowAbout;
    double readEffort() const override { return 10 + WindowAbout::readEffort(); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size());
        const std::int64_t from = about(first).first, to = about(last - 1).last + 1;
        const auto own = values(from, to - from);
        std::vector<std::uint32_t> order; // of those that are there
        for (std::int64_t i = 0; i < to - from; ++i)
            if (own[std::size_t(i)] == own[std::size_t(i)]) order.push_back(std::uint32_t(i));
        std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) { return own[a] < own[b]; });
        std::vector<std::uint32_t> rankOf(std::size_t(to - from), nowhere);
        for (std::size_t rank = 0; rank < order.size(); ++rank) rankOf[order[rank]] = std::uint32_t(rank);
        Ranks ranks(order.size());
        const auto change = [&](std::int64_t sample, std::int32_t by) {
            if (const std::uint32_t rank = rankOf[std::size_t(sample - from)]; rank != nowhere) ranks.add(rank, by);
        };
        Window now{from, from - 1};
        for (std::int64_t i = first; i < last; ++i) {
            const Window next = about(i);
            while (now.last < next.last) change(++now.last, 1);
            while (now.first < next.first) change(now.first++, -1);
            const bool there = rankOf[std::size_t(i - from)] != nowhere;
            const auto value = [&](std::int32_t place) { return own[order[ranks.at(place)]]; };
            const std::int32_t middle = ranks.count() / 2;
            out[std::size_t(i - first)] = !there                   ? nan
                                          : ranks.count() % 2 == 1 ? value(middle)
                                                                   : finite((value(middle - 1) + value(middle)) / 2);
        }
    }

private:
    static constexpr std::uint32_t nowhere = ~0U;
};

} // namespace

SourcePtr medianOf(const FormulaOver &of)
{
    constexpr double most = 1e5;
    return std::make_shared<Median>(of.sources[0], halfWindow(of, "median", most));
}

} // namespace fulvex
