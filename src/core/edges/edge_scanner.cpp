#include "edge_scanner.h"

#include "bit_list.h"
#include "passage_walk.h"
#include "widest_vectors.h"

#include <algorithm>
#include <bit>
#include <cassert>
#include <utility>

namespace fulvex {

EdgeScanner::EdgeScanner(CrossingLevel level, std::int64_t first, double before)
    : m_level(level), m_seen(first), m_before(before)
{
    assert(level.bottom <= level.mid && level.mid <= level.top);
}

std::uint8_t EdgeScanner::flagsOf(bool rising)
{
    return std::uint8_t((rising ? EdgeList::rising : 0) | (std::exchange(m_gap, false) ? EdgeList::afterGap : 0));
}

void EdgeScanner::emit(double position, bool rising, EdgeList &edges)
{
    edges.positions.push_back(position);
    edges.flags.push_back(flagsOf(rising));
}

void EdgeScanner::step(double v, EdgeList &edges)
{
    const double mid = m_level.mid;
    if (!(v == v)) {
        m_armed = Armed::no;
        m_gap = m_anyGap = true;
    } else {
        const double passage = double(m_seen - 1) + (mid - m_before) / (v - m_before); // used only where it is one
        if (m_before < mid && v >= mid) m_passageUp = passage;
        if (m_before >= mid && v < mid) m_passageDown = passage;
        const bool atTop = v >= m_level.top, atBottom = v <= m_level.bottom && v < mid;
        if (m_armed == Armed::below && atTop) emit(m_passageUp, true, edges);
        if (m_armed == Armed::above && atBottom) emit(m_passageDown, false, edges);
        if (atTop) settle(Armed::above, m_passageUp, m_passageDown);
        if (atBottom) settle(Armed::below, m_passageUp, m_passageDown);
    }
    m_before = v;
    ++m_seen;
}

void EdgeScanner::settle(Armed side, double up, double down)
{
    m_armed = side;
    if (!m_opening) m_opening = State{side, up, down, m_anyGap};
}

std::optional<EdgeScanner::Crossing> EdgeScanner::join(State &state, const EdgeScanner &piece, bool anyEdge)
{
    const auto later = [](double passage, double carried) { return passage == passage ? passage : carried; };
    std::optional<Crossing> confirmed;
    if (const auto &opening = piece.m_opening; opening && !opening->gap) {
        if (state.armed == Armed::below && opening->armed == Armed::above)
            confirmed = {later(opening->up, state.up), true};
        if (state.armed == Armed::above && opening->armed == Armed::below)
            confirmed = {later(opening->down, state.down), false};
    }
    if (piece.m_opening || piece.m_anyGap) state.armed = piece.m_armed;
    state.up = later(piece.m_passageUp, state.up);
    state.down = later(piece.m_passageDown, state.down);
    state.gap = confirmed || anyEdge ? piece.m_gap : state.gap || piece.m_gap;
    return confirmed;
}

void EdgeScanner::finish()
{
    m_room = {};
}

void EdgeScanner::feedPlainly(std::span<const double> values, EdgeList &edges)
{
    for (const double v : values) step(v, edges);
}

namespace {

/// Where the straight line between two samples passes a level, the second of them at base + at + 1.
FULVEX_WIDEST_VECTORS void layPassages(const double *left, const double *right, const std::int32_t *at,
                                       std::size_t count, double base, double mid, double *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = base + double(at[i]) + (mid - left[i]) / (right[i] - left[i]);
}

/// The same of codes.
template <typename Code>
FULVEX_WIDEST_VECTORS void layPassages(const Code *left, const Code *right, const std::int32_t *at, std::size_t count,
                                       double base, double mid, CodeScale scale, double *out)
{
    for (std::size_t i = 0; i < count; ++i) {
        const double before = double(left[i]) * scale.step + scale.offset,
                     behind = double(right[i]) * scale.step + scale.offset;
        out[i] = base + double(at[i]) + (mid - before) / (behind - before);
    }
}

/// Lists the passages of the level that confirmed ones are, and behind them the last one where it is not confirmed yet,
/// from `at` on: how many are. One that lies before the masks and is not confirmed yet stands at `at` - 1, and is
/// written over where it was none: then it is one less. `first`: the place of the first bit. `passages`: room.
std::int64_t listPassages(std::span<const CrossingMasks> masks, std::int32_t first, PassageWalk &walk,
                          std::vector<std::uint64_t> &passages, std::int32_t *at)
{
    passages.resize(masks.size());
    bool isBeforeNone = false;
    for (std::size_t word = 0; word < masks.size(); ++word) {
        const auto [all, again] = walk.next(masks[word]);
        passages[word] = all;
        for (std::uint64_t left = again; left; left &= left - 1) { // the one before is none
            std::size_t of = word;
            std::uint64_t before = passages[word] & ((left & -left) - 1);
            while (!before && of > 0) before = passages[--of];
            if (before)
                passages[of] ^= std::uint64_t(1) << (63 - std::countl_zero(before));
            else
                isBeforeNone = true;
        }
    }
    std::int32_t *const out = at - isBeforeNone;
    const std::size_t count = listBits(passages, out);
    for (std::size_t i = 0; first != 0 && i < count; ++i) out[i] += first;
    return std::int64_t(count) - isBeforeNone;
}

} // namespace

/// Words of 64 finite samples each with a finite one before them; `value(i)` is one of them. What bits tell goes first,
/// and then all instants together: one alone waits for its division.
template <typename Sample, typename Value, typename Lay>
void EdgeScanner::scanWords(std::span<const Sample> samples, std::span<const CrossingMasks> masks,
                            Crossings<Sample> &found, EdgeList &edges, Value &&value, Lay &&lay)
{
    const auto passage = [&](std::int32_t at) {
        const double from = at == 0 ? m_before : value(std::size_t(at) - 1);
        return double(m_seen - 1) + double(at) + (m_level.mid - from) / (value(std::size_t(at)) - from);
    };
    constexpr std::int32_t before = -1; // of these samples
    std::int32_t up = before, down = before;
    const auto passageUp = [&](std::int32_t at) { return at == before ? m_passageUp : passage(at); };
    const auto passageDown = [&](std::int32_t at) { return at == before ? m_passageDown : passage(at); };
    found.at.resize(samples.size() + 64);
    found.flags.resize(samples.size() + 64);
    std::size_t count = 0, word = 0;
    bool isAbove = m_before >= m_level.mid;
    const auto passagesOf = [&](std::size_t of, bool wasAbove) { // up and down
        const std::uint64_t above = masks[of].above, behind = above << 1 | std::uint64_t(wasAbove);
        return std::pair(above & ~behind, ~above & behind);
    };
    const auto lastOf = [](std::uint64_t passages, std::size_t of, std::int32_t carried) {
        return passages ? std::int32_t(of * 64) + 63 - std::countl_zero(passages) : carried;
    };
    for (; word < masks.size() && m_armed == Armed::no; ++word) { // to where it first is on a side of the band
        const auto [ups, downs] = passagesOf(word, isAbove);
        const std::uint64_t sides = masks[word].atTop | masks[word].atBottom;
        if (sides) {
            const int bit = std::countr_zero(sides);
            const std::uint64_t until = ~std::uint64_t(0) >> (63 - bit);
            settle(masks[word].atTop >> bit & 1 ? Armed::above : Armed::below, passageUp(lastOf(ups & until, word, up)),
                   passageDown(lastOf(downs & until, word, down)));
            break;
        }
        up = lastOf(ups, word, up);
        down = lastOf(downs, word, down);
        isAbove = masks[word].above >> 63;
    }
    if (word < masks.size()) {
        const bool wasAbove = m_armed == Armed::above;
        PassageWalk walk{isAbove, wasAbove, isAbove == wasAbove};
        if (!walk.isConfirmed) found.at[count++] = wasAbove ? down : up;
        count += std::size_t(
            listPassages(masks.subspan(word), std::int32_t(word) * 64, walk, m_room.passages, found.at.data() + count));
        count -= !walk.isConfirmed;
        m_armed = walk.wasAbove ? Armed::above : Armed::below;
        for (std::size_t i = 0; i < count; ++i) // by turns
            found.flags[i] = (i % 2 == 0) != wasAbove ? EdgeList::rising : 0;
        if (count > 0) found.flags[0] = flagsOf(found.flags[0] & EdgeList::rising);
        std::int32_t lastUp = before, lastDown = before;
        for (std::size_t of = masks.size(); of-- > word && (lastUp == before || lastDown == before);) {
            const auto [ups, downs] = passagesOf(of, of > word ? masks[of - 1].above >> 63 : isAbove);
            if (lastUp == before) lastUp = lastOf(ups, of, before);
            if (lastDown == before) lastDown = lastOf(downs, of, before);
        }
        if (lastUp != before) up = lastUp;
        if (lastDown != before) down = lastDown;
    }
    found.left.resize(count);
    found.right.resize(count);
    for (std::size_t i = 0; i < count; ++i) {
        const auto at = std::size_t(std::max(found.at[i], 1));
        found.left[i] = samples[at - 1];
        found.right[i] = samples[at];
    }
    const std::size_t known = edges.size();
    edges.positions.resize(known + count);
    edges.flags.resize(known + count);
    std::copy_n(found.flags.begin(), count, edges.flags.begin() + std::ptrdiff_t(known));
    double *const positions = edges.positions.data() + known;
    lay(count, double(m_seen - 1), positions);
    for (std::size_t i = 0; i < std::min<std::size_t>(count, 4); ++i) { // what began before these samples, or with them
        if (found.at[i] > 0) continue;
        positions[i] = found.flags[i] & EdgeList::rising ? passageUp(found.at[i]) : passageDown(found.at[i]);
    }
    m_passageUp = passageUp(up);
    m_passageDown = passageDown(down);
    m_before = value(samples.size() - 1);
    m_seen += std::int64_t(samples.size());
}

void EdgeScanner::feed(std::span<const double> values, EdgeList &edges)
{
    const std::size_t words = values.size() / 64;
    m_room.masks.resize(words);
    crossingMasks(values.data(), words, m_level, m_room.masks.data());
    const auto isWhole = [&](std::size_t word) { return m_room.masks[word].finite == ~std::uint64_t(0); };
    for (std::size_t word = 0; word < words;) {
        std::size_t next = word;
        while (m_before == m_before && next < words && isWhole(next)) ++next;
        if (next == word) {
            feedPlainly(values.subspan(word++ * 64, 64), edges);
            continue;
        }
        const auto own = values.subspan(word * 64, (next - word) * 64);
        Crossings<double> &found = m_room.values;
        scanWords(
            own, std::span(m_room.masks).subspan(word, next - word), found, edges,
            [&](std::size_t i) { return own[i]; },
            [&](std::size_t count, double base, double *out) {
                layPassages(found.left.data(), found.right.data(), found.at.data(), count, base, m_level.mid, out);
            });
        word = next;
    }
    feedPlainly(values.subspan(words * 64), edges);
}

template <typename Code>
void EdgeScanner::feedCodes(std::span<const Code> codes, const CodeScale &scale, Crossings<Code> &found,
                            EdgeList &edges)
{
    assert(scale.step > 0);
    if (!m_codes || !(m_codes->first == scale)) m_codes = {scale, CodeLevels(m_level, scale)};
    const auto plainly = [&](std::span<const Code> some) {
        for (const Code code : some) step(scale.valueOf(code), edges);
    };
    if (!(m_before == m_before)) { // none before them
        const std::size_t first = std::min<std::size_t>(codes.size(), 1);
        plainly(codes.first(first));
        codes = codes.subspan(first);
    }
    const std::size_t words = codes.size() / 64;
    m_room.masks.resize(words);
    crossingMasks(codes.data(), words, m_codes->second, m_room.masks.data());
    const auto own = codes.first(words * 64);
    if (words > 0)
        scanWords(
            own, std::span(m_room.masks), found, edges, [&](std::size_t i) { return scale.valueOf(own[i]); },
            [&](std::size_t count, double base, double *out) {
                layPassages(found.left.data(), found.right.data(), found.at.data(), count, base, m_level.mid, scale,
                            out);
            });
    plainly(codes.subspan(words * 64));
}

void EdgeScanner::feed(std::span<const std::int16_t> codes, const CodeScale &scale, EdgeList &edges)
{
    feedCodes(codes, scale, m_room.codes, edges);
}

void EdgeScanner::feed(std::span<const std::int32_t> codes, const CodeScale &scale, EdgeList &edges)
{
    feedCodes(codes, scale, m_room.wideCodes, edges);
}

} // namespace fulvex
