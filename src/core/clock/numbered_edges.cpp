#include "numbered_edges.h"

#include <cmath>

namespace fulvex {

NumberedEdges::NumberedEdges(std::shared_ptr<const EdgeList> edges, std::shared_ptr<const SymbolTiming> timing,
                             const UnitIntervalMap &map)
    : m_edges(std::move(edges)), m_numbers(timing, &timing->numbers), m_shift(map.lineNumber())
{
}

NumberedEdges::NumberedEdges(std::shared_ptr<const EdgeList> edges, const UnitIntervalMap &map)
    : m_edges(std::move(edges))
{
    BoundaryNumbers numbers(m_edges->size());
    std::size_t hint = 0;
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const double position = m_edges->positions[i];
        const UnitIntervalMap::Piece piece = map.pieceAt(position, hint);
        numbers[i] = std::int32_t(std::lround(piece.number + (position - piece.from) * piece.slope));
    }
    m_numbers = std::make_shared<const BoundaryNumbers>(std::move(numbers));
}

void NumberedEdges::lateness(const UnitIntervalMap &map, std::size_t first, std::span<double> late) const
{
    if (late.empty()) return;
    if (map.hasKnots(m_numbers))
        return map.latenessAtKnots(std::span(m_edges->positions).subspan(first, late.size()), first, late);
    std::size_t hint = map.knotOf(numberOf(first));
    for (std::size_t i = 0; i < late.size(); ++i)
        late[i] = map.latenessOf(m_edges->positions[first + i], numberOf(first + i), hint);
}

std::vector<double> NumberedEdges::lateness(const UnitIntervalMap &map) const
{
    std::vector<double> late(size());
    lateness(map, 0, late);
    return late;
}

} // namespace fulvex
