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
    using Place = std::pair<std::string, int>; ///< channel and lane
    /// Gives the newest that is drawn at a place, and goes on from what was there.
    template <typename Drawing>
    std::shared_ptr<const Drawing> laid(std::map<Place, Drawn<Drawing>> &before, std::map<Place, Drawn<Drawing>> &now,
                                        const Place &place, const typename Drawing::From &from);
    std::map<Place, Drawn<TraceDrawing>> m_lines;
    std::map<Place, Drawn<TraceStack>> m_others; ///< captures, behind them
};

} // namespace fulvex
