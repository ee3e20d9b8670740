#include "confirmed_passages.h"

#include "passage_walk.h"
#include "word_bits.h"

#include <algorithm>
#include <array>
#include <bit>
#include <limits>

namespace fulvex {

namespace {

/// Calls `use(value)` for samples of a source one by one, from one on upwards or downwards, while it says true.
template <typename Use>
void walk(const SampleSource &source, std::int64_t from, bool upwards, Use &&use)
{
    std::array<double, 1024> block;
    const std::int64_t count = source.axis().count;
    while (from >= 0 && from < count) {
        const std::int64_t first = upwards ? from : std::max<std::int64_t>(0, from - std::int64_t(block.size()) + 1),
                           last = upwards ? std::min(count, from + std::int64_t(block.size())) : from + 1;
        const std::span some(block.data(), std::size_t(last - first));
        source.read(first, some);
        if (!upwards) std::ranges::reverse(some);
        for (const double value : some)
            if (!use(value)) return;
        from = upwards ? last : first - 1;
    }
}

/// The side of the band that a sample is on.
enum class Side { none, below, above };

Side sideOf(double v, CrossingLevel level)
{
    return v >= level.top ? Side::above : v <= level.bottom && v < level.mid ? Side::below : Side::none;
}

} // namespace

void ConfirmedPassages::set(Passage passage)
{
    (passage.rising ? m_rising : m_falling)[std::size_t(passage.place / 64)] |= std::uint64_t(1) << passage.place % 64;
}

void ConfirmedPassages::clear(std::int64_t place)
{
    for (Words *words : {&m_rising, &m_falling}) (*words)[std::size_t(place / 64)] &= ~(std::uint64_t(1) << place % 64);
}

void ConfirmedPassages::find(std::span<CrossingMasks> masks, SampleRange there)
{
    m_there = there;
    m_first = m_last = std::nullopt;
    m_isArmed = true;
    const std::size_t size = masks.size();
    m_rising.resize(size);
    m_falling.resize(size);
    const auto placeOf = [](std::size_t w) { return std::int64_t(w) * 64; };
    if (there.size() <= 0) {
        std::ranges::fill(m_rising, 0);
        std::ranges::fill(m_falling, 0);
        return;
    }
    const auto isAboveAt = [&](std::int64_t place) { return masks[std::size_t(place / 64)].above >> place % 64 & 1; };
    const std::uint64_t beforeAll = isAboveAt(there.first) ? ~std::uint64_t(0) : 0,
                        behindAll = isAboveAt(there.last - 1) ? ~std::uint64_t(0) : 0;
    const auto trim = [&](std::size_t w) { // what is beyond goes on as it is at the border
        const std::uint64_t before = bitsBetween(0, there.first - placeOf(w)),
                            behind = bitsBetween(there.last - placeOf(w), 64), own = ~(before | behind);
        masks[w].atTop &= own;
        masks[w].atBottom &= own;
        masks[w].above = (masks[w].above & own) | (before & beforeAll) | (behind & behindAll);
    };
    for (std::size_t w = 0; w < size && placeOf(w) < there.first; ++w) trim(w);
    for (std::size_t w = std::size_t(there.last / 64); w < size; ++w) trim(w);
    const auto passagesOf = [&](std::size_t w) {
        const std::uint64_t now = masks[w].above;
        return now ^ (now << 1 | (w > 0 ? masks[w - 1].above >> 63 : now & 1));
    };
    const auto lastOf = [&](std::uint64_t bits, std::size_t w) { return placeOf(w) + 63 - std::countl_zero(bits); };
    const auto lastUpTo = [&](std::size_t w) { // the last passage in so many words; -1 where there is none
        while (w > 0 && !passagesOf(w - 1)) --w;
        return w > 0 ? lastOf(passagesOf(w - 1), w - 1) : -1;
    };
    std::size_t settled = 0; // the word in which it first comes to a side of the band
    while (settled < size && !(masks[settled].atTop | masks[settled].atBottom)) ++settled;
    if (settled == size) {
        std::ranges::fill(m_rising, 0);
        std::ranges::fill(m_falling, 0);
        if (const std::int64_t last = lastUpTo(size); last >= 0) m_last = Passage{last, bool(isAboveAt(last))};
        m_isArmed = false;
        return;
    }
    const int bit = std::countr_zero(masks[settled].atTop | masks[settled].atBottom);
    const bool above = masks[settled].atTop >> bit & 1, isAbove = masks[0].above & 1;
    std::uint64_t until = bitsBetween(0, bit + 1);
    for (std::size_t w = settled + 1; w-- > 0 && !m_first; until = ~std::uint64_t(0)) {
        if (const std::uint64_t to = passagesOf(w) & (above ? masks[w].above : ~masks[w].above) & until)
            m_first = Passage{lastOf(to, w), above};
    }
    PassageWalk walk{isAbove, above, isAbove == above}; // as if it had been on that side before
    for (std::size_t w = 0; w < size; ++w) {
        const auto [all, again] = walk.next(masks[w]);
        m_rising[w] = all & masks[w].above;
        m_falling[w] = all & ~masks[w].above;
        for (std::uint64_t left = again; left; left &= left - 1) {
            const std::uint64_t before = all & ((left & -left) - 1);
            const std::int64_t none = before ? lastOf(before, w) : lastUpTo(w);
            if (none >= 0) clear(none);
        }
    }
    const std::int64_t last = walk.isConfirmed ? -1 : lastUpTo(size);
    if (last < 0) return;
    const bool rising = isAboveAt(last);
    clear(last);
    if (rising != walk.wasAbove) m_last = Passage{last, rising};
}

void ConfirmedPassages::findPlainly(const std::function<double(std::size_t)> &valueAt, CrossingLevel level,
                                    std::size_t words, SampleRange there)
{
    m_there = there;
    m_first = m_last = std::nullopt;
    m_rising.assign(words, 0);
    m_falling.assign(words, 0);
    Side armed = Side::none;
    bool isKnown = false; // on which side it was last, or that there was a gap
    double before = std::numeric_limits<double>::quiet_NaN();
    std::optional<Passage> up, down;
    for (std::int64_t i = there.first; i < there.last; ++i) {
        const double v = valueAt(std::size_t(i));
        if (!(v == v)) {
            armed = Side::none;
            isKnown = true;
            up = down = std::nullopt;
        }
        if (before < level.mid && v >= level.mid) up = Passage{i, true};
        if (before >= level.mid && v < level.mid) down = Passage{i, false};
        before = v;
        const Side side = sideOf(v, level);
        if (side == Side::none || side == armed) continue;
        const std::optional<Passage> to = side == Side::above ? up : down;
        if (armed != Side::none && to) set(*to);
        if (!isKnown) m_first = to;
        armed = side;
        isKnown = true;
    }
    const std::int64_t lastUp = up ? up->place : -1, lastDown = down ? down->place : -1;
    m_isArmed = isKnown;
    if ((armed == Side::below || !isKnown) && lastUp > lastDown) m_last = up;
    if ((armed == Side::above || !isKnown) && lastDown > lastUp) m_last = down;
}

void ConfirmedPassages::settle(const SampleSource &source, std::int64_t first, CrossingLevel level, SampleRange matters)
{
    const auto asked = [&](const std::optional<Passage> &passage) {
        return passage && passage->place >= matters.first && passage->place < matters.last;
    };
    const auto wasOpposite = [&](const Passage &passage) { // before the samples
        Side last = Side::none;
        walk(source, first + m_there.first - 1, false, [&](double v) {
            last = sideOf(v, level);
            return v == v && last == Side::none;
        });
        return last == (passage.rising ? Side::below : Side::above);
    };
    if (asked(m_first) && wasOpposite(*m_first)) set(*m_first);
    if (asked(m_last) && (m_isArmed || wasOpposite(*m_last))) {
        walk(source, first + m_there.last, true, [&](double v) {
            if (sideOf(v, level) == (m_last->rising ? Side::above : Side::below)) {
                set(*m_last);
                return false;
            }
            return v == v && (v >= level.mid) == m_last->rising;
        });
    }
}

} // namespace fulvex
