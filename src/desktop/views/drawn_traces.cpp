#include "drawn_traces.h"

namespace fulvex {

void DrawnTraces::lay(TraceFigure &figure, const QRectF &area, const Look &look)
{
    std::map<std::pair<std::string, int>, Drawn<TraceDrawing>> shown;
    for (int i = 0; i < int(figure.lines.size()); ++i) {
        TraceFigure::Line &line = figure.lines[std::size_t(i)];
        const auto from = figure.drawingFrom(area, i, look);
        if (!from) continue;
        const auto key = std::pair(line.id, line.lane);
        if (auto known = m_lines.extract(key)) shown.insert(std::move(known));
        auto &drawn = shown.try_emplace(key, m_worker, m_came).first->second;
        drawn.want(*from);
        line.drawing = drawn.newest();
    }
    m_lines = std::move(shown); // what is not shown any more goes
}

} // namespace fulvex
