#include "edge_scanner.h"

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

void EdgeScanner::feedPlainly(std::span<const double> values, EdgeList &edges)
{
    for (const double v : values) step(v, edges);
}

/// 64 finite samples with a finite one before them; `value(i)` is one of them.
template <typename Value>
void EdgeScanner::scanWord(const CrossingMasks &masks, EdgeList &edges, Value &&value)
{
    const std::uint64_t before = masks.above << 1 | std::uint64_t(m_before >= m_level.mid);
    const std::uint64_t up = masks.above & ~before, down = ~masks.above & before;
    const auto passage = [&](int bit) {
        const double from = bit == 0 ? m_before : value(bit - 1);
        return double(m_seen + bit - 1) + (m_level.mid - from) / (value(bit) - from);
    };
    const auto lastOf = [&](std::uint64_t passages, int until, double carried) {
        passages &= ~std::uint64_t(0) >> (63 - until);
        return passages ? passage(63 - std::countl_zero(passages)) : carried;
    };
    // Room for as many as there can be, written without asking.
    const std::size_t known = edges.size();
    edges.positions.resize(known + 64);
    edges.flags.resize(known + 64);
    double *position = edges.positions.data() + known;
    std::uint8_t *flags = edges.flags.data() + known;
    for (std::uint64_t rest = ~std::uint64_t(0); rest;) {
        const bool rising = m_armed == Armed::below;
        const std::uint64_t hits = rest & (m_armed == Armed::no ? masks.atTop | masks.atBottom
                                           : rising             ? masks.atTop
                                                                : masks.atBottom);
        if (!hits) break;
        const int bit = std::countr_zero(hits);
        if (m_armed != Armed::no) {
            *position++ = rising ? lastOf(up, bit, m_passageUp) : lastOf(down, bit, m_passageDown);
            *flags++ = flagsOf(rising);
        }
        const bool atTop = masks.atTop >> bit & 1;
        if (m_opening)
            m_armed = atTop ? Armed::above : Armed::below;
        else
            settle(atTop ? Armed::above : Armed::below, lastOf(up, bit, m_passageUp), lastOf(down, bit, m_passageDown));
        rest = bit == 63 ? 0 : ~std::uint64_t(0) << (bit + 1);
    }
    const auto found = std::size_t(position - edges.positions.data());
    edges.positions.resize(found);
    edges.flags.resize(found);
    m_passageUp = lastOf(up, 63, m_passageUp);
    m_passageDown = lastOf(down, 63, m_passageDown);
    m_before = value(63);
    m_seen += 64;
}

void EdgeScanner::feed(std::span<const double> values, EdgeList &edges)
{
    const std::size_t words = values.size() / 64;
    m_masks.resize(words);
    crossingMasks(values.data(), words, m_level, m_masks.data());
    for (std::size_t word = 0; word < words; ++word) {
        if (m_masks[word].finite == ~std::uint64_t(0) && m_before == m_before)
            scanWord(m_masks[word], edges, [&](int bit) { return values[word * 64 + std::size_t(bit)]; });
        else
            feedPlainly(values.subspan(word * 64, 64), edges);
    }
    feedPlainly(values.subspan(words * 64), edges);
}

void EdgeScanner::feed(std::span<const std::int16_t> codes, const CodeScale &scale, EdgeList &edges)
{
    assert(scale.step > 0);
    if (!m_codes || !(m_codes->first == scale)) m_codes = {scale, CodeLevels(m_level, scale)};
    const std::size_t words = codes.size() / 64;
    m_masks.resize(words);
    crossingMasks(codes.data(), words, m_codes->second, m_masks.data());
    const auto plainly = [&](std::span<const std::int16_t> some) {
        for (const std::int16_t code : some) step(scale.valueOf(code), edges);
    };
    for (std::size_t word = 0; word < words; ++word) {
        const auto own = codes.subspan(word * 64, 64);
        if (m_before == m_before)
            scanWord(m_masks[word], edges, [&](int bit) { return scale.valueOf(own[std::size_t(bit)]); });
        else
            plainly(own);
    }
    plainly(codes.subspan(words * 64));
}

} // namespace fulvex
