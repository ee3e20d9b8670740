#include "pyramid.h"

#include "parallel.h"

#include <array>
#include <cmath>
#include <limits>

namespace fulvex {

constexpr std::int64_t soonRead = std::int64_t(1) << 21; ///< samples of an estimate

static constexpr Extent nothing = Extent::nothing();

static void widen(Extent &extent, Extent other)
{
    extent.low = std::min(extent.low, other.low);
    extent.high = std::max(extent.high, other.high);
}

std::size_t Pyramid::bytes() const
{
    std::size_t all = sizeof *this;
    if (!isPlain()) return all; // of another one's
    for (const auto &level : m_stored->levels) all += level.capacity() * sizeof(Extent);
    return all + m_stored->picks.capacity() * sizeof(float);
}

Extent Pyramid::scaled(Extent stored) const
{
    if (stored.empty() || isPlain()) return stored;
    const double low = stored.low * m_gain + m_shift, high = stored.high * m_gain + m_shift;
    return Extent::of(std::min(low, high), std::max(low, high));
}

float Pyramid::scaled(float stored) const
{
    return isPlain() ? stored : float(stored * m_gain + m_shift);
}

std::vector<Extent> Pyramid::ground() const
{
    std::vector<Extent> extents = m_stored->levels.front();
    for (Extent &extent : extents) extent = scaled(extent);
    return extents;
}

RawVector<float> Pyramid::picks() const
{
    RawVector<float> all = m_stored->picks;
    for (float &pick : all) pick = scaled(pick);
    return all;
}

void Pyramid::appendPicks(std::size_t block, std::vector<float> &values) const
{
    for (const float pick : std::span(m_stored->picks).subspan(block * picked, picked))
        if (pick == pick) values.push_back(scaled(pick));
}

void Pyramid::Stored::stack()
{
    levels.resize(1);
    while (levels.back().size() > 1) {
        const auto &below = levels.back();
        std::vector<Extent> level((below.size() + factor - 1) / factor, nothing);
        for (std::size_t i = 0; i < below.size(); ++i) widen(level[i / factor], below[i]);
        levels.push_back(std::move(level));
    }
}

/// Where in a block its picks are: each somewhere in its share of the block, the same for every source. At places as
/// regular as a clock's they would show one phase of it.
static std::array<std::int64_t, Pyramid::picked> pickPlaces(std::int64_t block)
{
    constexpr std::int64_t share = Pyramid::finest / Pyramid::picked;
    std::array<std::int64_t, Pyramid::picked> places;
    auto bits = std::uint64_t(block) * 0x9e3779b97f4a7c15u; // splitmix64
    bits = (bits ^ bits >> 30) * 0xbf58476d1ce4e5b9u;
    bits = (bits ^ bits >> 27) * 0x94d049bb133111ebu;
    bits ^= bits >> 31;
    for (std::size_t i = 0; i < places.size(); ++i)
        places[i] = std::int64_t(i) * share + std::int64_t(bits >> (5 * i) & (share - 1));
    return places;
}

/// Extents and picks of a range that begins with a block.
static void survey(const SampleSource &source, SampleRange range, std::span<Extent> extents, std::span<float> picks)
{
    const std::int64_t firstBlock = range.first / Pyramid::finest;
    const auto pick = [&](std::int64_t block, auto &&valueAt) {
        const auto places = pickPlaces(block);
        for (std::size_t i = 0; i < places.size(); ++i) {
            const std::int64_t at = block * Pyramid::finest + places[i];
            picks[std::size_t((block - firstBlock) * Pyramid::picked) + i] =
                at < range.last ? float(valueAt(at)) : std::numeric_limits<float>::quiet_NaN();
        }
    };
    if (source.readEffort() <= 1) { // few samples of a file cost as much as they are
        source.extents(range, Pyramid::finest, extents);
        for (std::size_t i = 0; i < extents.size(); ++i)
            pick(firstBlock + std::int64_t(i), [&](std::int64_t at) {
                double value;
                source.read(at, std::span(&value, 1));
                return value;
            });
        return;
    }
    constexpr std::int64_t atOnce = 8192;
    std::vector<double> values(std::size_t(std::min(atOnce, range.size())));
    for (std::int64_t first = range.first; first < range.last; first += atOnce) {
        const std::span part(values.data(), std::size_t(std::min(atOnce, range.last - first)));
        source.read(first, part);
        for (std::int64_t i = 0; i < std::int64_t(part.size()); i += Pyramid::finest) {
            const std::int64_t block = (first + i) / Pyramid::finest;
            extents[std::size_t(block - firstBlock)] = extentOf(
                part.subspan(std::size_t(i), std::min(std::size_t(Pyramid::finest), part.size() - std::size_t(i))));
            pick(block, [&](std::int64_t at) { return part[std::size_t(at - first)]; });
        }
    }
}

Pyramid Pyramid::build(const SampleSource &source, Progress &progress)
{
    const SampleRange all{0, source.axis().count};
    const auto blocks = std::size_t((all.last + finest - 1) / finest);
    std::vector<Extent> ground(blocks, nothing);
    RawVector<float> picks(blocks * picked);
    struct Nothing {};
    inChunks<Nothing>(all, 4 * defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        const auto place = std::size_t(mine.first / finest), count = std::size_t((mine.size() + finest - 1) / finest);
        survey(source, mine, std::span(ground).subspan(place, count),
               std::span(picks).subspan(place * picked, count * picked));
        source.release(mine);
    });
    return over(std::move(ground), std::move(picks));
}

Pyramid Pyramid::over(std::vector<Extent> ground, RawVector<float> picks)
{
    auto stored = std::make_shared<Stored>();
    stored->levels.push_back(std::move(ground));
    stored->picks = std::move(picks);
    stored->stack();
    return Pyramid(std::move(stored));
}

Pyramid Pyramid::sketch(const SampleSource &source)
{
    constexpr std::int64_t most = 2048, few = 64;
    const std::int64_t places = std::clamp(soonRead / (source.runIn() + finest), few, most);
    const std::int64_t count = source.axis().count, blocks = (count + finest - 1) / finest;
    auto stored = std::make_shared<Stored>();
    stored->sketch = true;
    const std::int64_t base = stored->base = finest * std::max<std::int64_t>(1, (blocks + places - 1) / places);
    auto &ground = stored->levels.emplace_back(std::size_t((count + base - 1) / base), nothing);
    stored->picks.resize(ground.size() * picked);
    const auto placeOf = [&](std::size_t i) {
        const std::int64_t first = std::int64_t(i) * base;
        return SampleRange{first, std::min(count, first + finest)};
    };
    // A record that the whole of is soon in memory is paged in and kept at once, a longer one place by place.
    const bool kept = base <= 1 << 16;
    if (kept) source.announce({0, count});
    for (std::size_t i = 0; !kept && i < ground.size(); ++i) source.announce(placeOf(i));
    constexpr std::size_t together = 128;
    onAllCores(std::int64_t((ground.size() + together - 1) / together), [&](std::int64_t group) {
        const std::size_t begin = std::size_t(group) * together, end = std::min(ground.size(), begin + together);
        for (std::size_t i = begin; i < end; ++i)
            survey(source, placeOf(i), std::span(ground).subspan(i, 1),
                   std::span(stored->picks).subspan(i * picked, picked));
        if (!kept) source.release({placeOf(begin).first, placeOf(end - 1).last}); // with what was paged in around
    });
    stored->stack();
    return Pyramid(std::move(stored));
}

Pyramid Pyramid::scaled(double gain, double shift) const
{
    Pyramid result = *this;
    result.m_gain = m_gain * gain;
    result.m_shift = m_shift * gain + shift;
    return result;
}

Extent Pyramid::extent(SampleRange range) const
{
    Extent found = nothing;
    if (range.size() == 0) return found;
    std::int64_t first = range.first / base(), last = (range.last + base() - 1) / base(); // in blocks of the level
    for (const auto &level : m_stored->levels) {
        last = std::min(last, std::int64_t(level.size()));
        while (first < last && first % factor) widen(found, level[std::size_t(first++)]);
        while (first < last && last % factor) widen(found, level[std::size_t(--last)]);
        if (first >= last) break;
        first /= factor;
        last /= factor;
        if (&level == &m_stored->levels.back()) break;
    }
    return scaled(found);
}

Extent Pyramid::whole() const
{
    const auto &top = m_stored->levels.back();
    return top.empty() ? nothing : scaled(top.front());
}

namespace {

/// Appends the finite ones of some values, as a column's.
template <typename Values>
void appendColumn(TraceColumns &columns, const Values &values)
{
    for (const auto value : values)
        if (value == value) columns.values.push_back(float(value));
    columns.starts.push_back(std::uint32_t(columns.values.size()));
}

} // namespace

TraceColumns traceColumns(const SampleSource &source, const Pyramid &pyramid, double from, double to, int columns)
{
    const std::int64_t count = source.axis().count;
    TraceColumns found;
    found.extents.resize(std::size_t(columns), nothing);
    found.starts.reserve(std::size_t(columns) + 1);
    found.values.reserve(std::size_t(columns) * 64);
    found.starts.push_back(0);
    const double width = (to - from) / columns;
    const auto edge = [&](int column) {
        return std::int64_t(std::clamp(std::ceil(from + width * column), 0.0, double(count)));
    };
    // What is read with each column would soon be the whole record.
    const bool sketched = pyramid.isSketch() && source.runIn() > 0 && to - from > double(soonRead);
    if (width >= double(pyramid.base()) || sketched) {
        constexpr std::int64_t most = 64; // picks a column
        for (int c = 0; c < columns; ++c) {
            const SampleRange slice{edge(c), edge(c + 1)};
            found.extents[std::size_t(c)] = pyramid.extent(slice);
            // All picks of some blocks: they lie side by side.
            const auto blocks = std::int64_t(pyramid.blocks());
            const std::int64_t first = std::min(blocks, slice.first / pyramid.base()),
                               last = std::min(blocks, (slice.last + pyramid.base() - 1) / pyramid.base());
            const std::int64_t step = std::max<std::int64_t>(1, (last - first) * Pyramid::picked / most);
            for (std::int64_t block = first; block < last; block += step)
                pyramid.appendPicks(std::size_t(block), found.values);
            found.starts.push_back(std::uint32_t(found.values.size()));
        }
        return found;
    }
    found.inOrder = true;
    std::vector<double> values;
    if (pyramid.isSketch() && width >= double(Pyramid::finest)) {
        for (int c = 0; c < columns; ++c) {
            const SampleRange slice{edge(c), std::min(edge(c + 1), edge(c) + Pyramid::finest)};
            values.resize(std::size_t(slice.size()));
            if (!values.empty()) source.read(slice.first, values);
            found.extents[std::size_t(c)] = extentOf(values);
            appendColumn(found, values);
        }
        return found;
    }
    const SampleRange range{edge(0), edge(columns)};
    values.resize(std::size_t(range.size()));
    if (!values.empty()) source.read(range.first, values);
    for (int c = 0; c < columns; ++c) {
        const std::int64_t first = edge(c), last = edge(c + 1);
        const auto slice =
            std::span(values).subspan(std::size_t(first - range.first), std::size_t(std::max(first, last) - first));
        if (last > first) found.extents[std::size_t(c)] = extentOf(slice);
        appendColumn(found, slice);
    }
    return found;
}

} // namespace fulvex
