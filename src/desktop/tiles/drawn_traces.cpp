#include "drawn_traces.h"

namespace fulvex {

template <typename Drawing>
std::shared_ptr<const Drawing> DrawnTraces::laid(std::map<Place, Drawn<Drawing>> &before,
                                                 std::map<Place, Drawn<Drawing>> &now, const Place &place,
                                                 const typename Drawing::From &from)
{
    if (auto known = before.extract(place)) now.insert(std::move(known));
    auto &drawn = now.try_emplace(place, m_worker, m_came).first->second;
    drawn.want(from);
    return drawn.newest();
}

void DrawnTraces::lay(TraceFigure &figure, const QRectF &area, const Look &look)
{
    std::map<Place, Drawn<TraceDrawing>> lines;
    std::map<Place, Drawn<TraceStack>> others;
    for (int i = 0; i < int(figure.lines.size()); ++i) {
        TraceFigure::Line &line = figure.lines[std::size_t(i)];
        const Place place(line.id, line.lane);
        if (const auto from = figure.drawingFrom(area, i, look)) line.drawing = laid(m_lines, lines, place, *from);
        if (const auto from = figure.othersFrom(area, i, look)) line.others = laid(m_others, others, place, *from);
    }
    m_lines = std::move(lines); // what is not shown any more goes
    m_others = std::move(others);
}

} // namespace fulvex
