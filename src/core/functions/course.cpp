#include "course.h"

#include <algorithm>

namespace fulvex {

void Course::read(std::int64_t first, std::span<double> out) const
{
    const auto before = [](const auto &one, double position) { return one.position < position; };
    auto piece = std::lower_bound(m_pieces.begin(), m_pieces.end(), double(first),
                                  [](const Piece &one, double position) { return one.end < position; });
    auto next = piece == m_pieces.end()
                    ? std::vector<Moment>::const_iterator()
                    : std::lower_bound(piece->moments.begin(), piece->moments.end(), double(first), before);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double at = double(first) + double(i);
        while (piece != m_pieces.end() && piece->end < at)
            if (++piece != m_pieces.end()) next = piece->moments.begin();
        if (piece == m_pieces.end() || at < piece->begin) {
            out[i] = nan;
            continue;
        }
        while (next != piece->moments.end() && next->position < at) ++next;
        if (next == piece->moments.begin() || next == piece->moments.end()) {
            out[i] = next == piece->moments.end() ? piece->moments.back().value : next->value;
            continue;
        }
        const Moment &from = next[-1];
        const double share = (at - from.position) / (next->position - from.position);
        out[i] = from.value + share * (next->value - from.value);
    }
}

} // namespace fulvex
