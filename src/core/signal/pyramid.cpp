#include "pyramid.h"

#include "parallel.h"

#include <cmath>
#include <limits>

namespace fulvex {

static constexpr Extent nothing{std::numeric_limits<float>::infinity(), -std::numeric_limits<float>::infinity()};

static void widen(Extent &extent, Extent other)
{
    extent.low = std::min(extent.low, other.low);
    extent.high = std::max(extent.high, other.high);
}

static Extent extentOf(std::span<const double> values)
{
    double low = INFINITY, high = -INFINITY;
    for (const double v : values) { // a NaN compares false and changes nothing
        low = v < low ? v : low;
        high = v > high ? v : high;
    }
    return {float(low), float(high)};
}

Pyramid Pyramid::build(const SampleSource &source, Progress &progress)
{
    const SampleRange all{0, source.axis().count};
    Pyramid pyramid;
    auto &ground = pyramid.m_levels.emplace_back(std::size_t((all.last + base - 1) / base), nothing);
    struct Nothing {};
    inChunks<Nothing>(all, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        forBlocks(source, mine, [&](std::int64_t first, std::span<const double> values) {
            for (std::size_t i = 0; i < values.size(); i += base) {
                const auto length = std::min<std::size_t>(base, values.size() - i);
                ground[std::size_t(first / base) + i / base] = extentOf(values.subspan(i, length));
            }
        });
    });
    while (pyramid.m_levels.back().size() > 1) {
        const auto &below = pyramid.m_levels.back();
        std::vector<Extent> level((below.size() + factor - 1) / factor, nothing);
        for (std::size_t i = 0; i < below.size(); ++i) widen(level[i / factor], below[i]);
        pyramid.m_levels.push_back(std::move(level));
    }
    return pyramid;
}

Extent Pyramid::extent(SampleRange range) const
{
    Extent found = nothing;
    if (range.size() == 0) return found;
    std::int64_t first = range.first / base, last = (range.last + base - 1) / base; // in blocks of the level
    for (const auto &level : m_levels) {
        last = std::min(last, std::int64_t(level.size()));
        while (first < last && first % factor) widen(found, level[std::size_t(first++)]);
        while (first < last && last % factor) widen(found, level[std::size_t(--last)]);
        if (first >= last) break;
        first /= factor;
        last /= factor;
        if (&level == &m_levels.back()) break;
    }
    return found;
}

Extent Pyramid::whole() const
{
    return m_levels.back().empty() ? nothing : m_levels.back().front();
}

std::vector<Extent> traceColumns(const SampleSource &source, const Pyramid &pyramid, double from, double to,
                                 int columns)
{
    const std::int64_t count = source.axis().count;
    std::vector<Extent> found(std::size_t(columns), nothing);
    const double width = (to - from) / columns;
    const auto edge = [&](int column) {
        return std::int64_t(std::clamp(std::ceil(from + width * column), 0.0, double(count)));
    };
    if (width >= double(Pyramid::base)) {
        for (int c = 0; c < columns; ++c) found[std::size_t(c)] = pyramid.extent({edge(c), edge(c + 1)});
        return found;
    }
    const SampleRange range{edge(0), edge(columns)};
    std::vector<double> values(std::size_t(range.size()));
    if (!values.empty()) source.read(range.first, values);
    for (int c = 0; c < columns; ++c) {
        const std::int64_t first = edge(c), last = edge(c + 1);
        if (last > first)
            found[std::size_t(c)] =
                extentOf(std::span(values).subspan(std::size_t(first - range.first), std::size_t(last - first)));
    }
    return found;
}

} // namespace fulvex
