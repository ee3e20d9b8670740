#include "pyramid.h"

#include "parallel.h"

#include <cmath>
#include <limits>

namespace fulvex {

static constexpr Extent nothing = Extent::nothing();

static void widen(Extent &extent, Extent other)
{
    extent.low = std::min(extent.low, other.low);
    extent.high = std::max(extent.high, other.high);
}

std::size_t Pyramid::bytes() const
{
    std::size_t all = sizeof *this;
    for (const auto &level : m_levels) all += level.capacity() * sizeof(Extent);
    return all;
}

void Pyramid::stack()
{
    m_levels.resize(1);
    while (m_levels.back().size() > 1) {
        const auto &below = m_levels.back();
        std::vector<Extent> level((below.size() + factor - 1) / factor, nothing);
        for (std::size_t i = 0; i < below.size(); ++i) widen(level[i / factor], below[i]);
        m_levels.push_back(std::move(level));
    }
}

Pyramid Pyramid::build(const SampleSource &source, Progress &progress)
{
    const SampleRange all{0, source.axis().count};
    std::vector<Extent> ground(std::size_t((all.last + finest - 1) / finest), nothing);
    struct Nothing {};
    inChunks<Nothing>(all, 4 * defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        const auto place = std::size_t(mine.first / finest), count = std::size_t((mine.size() + finest - 1) / finest);
        source.extents(mine, finest, std::span(ground).subspan(place, count));
        source.release(mine);
    });
    return over(std::move(ground));
}

Pyramid Pyramid::over(std::vector<Extent> ground)
{
    Pyramid pyramid;
    pyramid.m_levels.push_back(std::move(ground));
    pyramid.stack();
    return pyramid;
}

Pyramid Pyramid::sketch(const SampleSource &source)
{
    constexpr std::int64_t places = 2048;
    const std::int64_t count = source.axis().count, blocks = (count + finest - 1) / finest;
    Pyramid pyramid;
    pyramid.m_sketch = true;
    pyramid.m_base = finest * std::max<std::int64_t>(1, (blocks + places - 1) / places);
    auto &ground = pyramid.m_levels.emplace_back(std::size_t((count + pyramid.m_base - 1) / pyramid.m_base), nothing);
    const auto placeOf = [&](std::size_t i) {
        const std::int64_t first = std::int64_t(i) * pyramid.m_base;
        return SampleRange{first, std::min(count, first + finest)};
    };
    for (std::size_t i = 0; i < ground.size(); ++i) source.announce(placeOf(i));
    constexpr std::size_t together = 128;
    onAllCores(std::int64_t((ground.size() + together - 1) / together), [&](std::int64_t group) {
        const std::size_t begin = std::size_t(group) * together, end = std::min(ground.size(), begin + together);
        for (std::size_t i = begin; i < end; ++i) {
            const SampleRange place = placeOf(i);
            source.extents(place, finest, std::span(ground).subspan(i, 1));
        }
        source.release({placeOf(begin).first, placeOf(end - 1).last}); // with what was paged in around
    });
    pyramid.stack();
    return pyramid;
}

Pyramid Pyramid::scaled(double gain, double shift) const
{
    Pyramid result = *this;
    for (auto &level : result.m_levels) {
        for (Extent &extent : level) {
            if (extent.empty()) continue;
            const double low = extent.low * gain + shift, high = extent.high * gain + shift;
            extent = Extent::of(std::min(low, high), std::max(low, high));
        }
    }
    return result;
}

Extent Pyramid::extent(SampleRange range) const
{
    Extent found = nothing;
    if (range.size() == 0) return found;
    std::int64_t first = range.first / m_base, last = (range.last + m_base - 1) / m_base; // in blocks of the level
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
    if (pyramid.isSketch() && width >= double(Pyramid::finest) && width < double(pyramid.base())) {
        for (int c = 0; c < columns; ++c) {
            const SampleRange slice{edge(c), std::min(edge(c + 1), edge(c) + Pyramid::finest)};
            if (slice.size() > 0) source.extents(slice, Pyramid::finest, std::span(found).subspan(std::size_t(c), 1));
        }
        return found;
    }
    if (width >= double(pyramid.base())) {
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
