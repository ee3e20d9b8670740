#pragma once

#include "figure_worker.h"
#include "trace_figure.h"

#include <map>

namespace fulvex {

/// The drawings of a traces tile's lines, made beside the interface: what is there is shown until the next is.
class DrawnTraces {
public:
    DrawnTraces(FigureWorker &worker, std::function<void()> came) : m_worker(worker), m_came(std::move(came)) {}
    /// Gives each line its newest drawing, and asks for those that are of something else by now.
    void lay(TraceFigure &figure, const QRectF &area, const Look &look);

private:
    FigureWorker &m_worker;
    std::function<void()> m_came;
    std::map<std::pair<std::string, int>, Drawn<TraceDrawing>> m_lines; ///< by channel and lane
};

} // namespace fulvex
