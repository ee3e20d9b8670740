#include "report_plots.h"

namespace fulvex {

ReportContent::Figure plotted(const QString &title, QSizeF size, const FunctionPlot &plot, Progress &progress)
{
    return {title,
            {},
            size,
            [picture = recordedPlot(plot, size, Look::onPaper(), progress),
             size](QPainter &painter, const QRectF &area) { paintRecorded(painter, area, picture, size); }};
}

ReportContent::Figure plottedTogether(const QString &title, QSizeF size, const std::vector<FunctionPlot> &plots,
                                      const std::function<std::vector<QRectF>(const QRectF &)> &places,
                                      Progress &progress)
{
    const std::vector<QRectF> areas = places(QRectF(QPointF(0, 0), size));
    std::vector<ReportContent::Figure> parts;
    for (std::size_t k = 0; k < plots.size(); ++k) parts.push_back(plotted({}, areas[k].size(), plots[k], progress));
    return {title, {}, size, [parts, places](QPainter &painter, const QRectF &whole) {
                const auto where = places(whole);
                for (std::size_t k = 0; k < parts.size(); ++k) parts[k].paint(painter, where[k]);
            }};
}

} // namespace fulvex
