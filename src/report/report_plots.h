#pragma once

#include "function_plot.h"
#include "report_content.h"

namespace fulvex {

constexpr QSizeF flatFigure(456, 150); ///< across a page, as low as most curves are

/// A function plot is recorded now, on the interface's thread, and laid on whatever paper afterwards. Throws Cancelled.
ReportContent::Figure plotted(const QString &title, QSizeF size, const FunctionPlot &plot, Progress &progress);

/// Several, each where `places(area)` says.
ReportContent::Figure plottedTogether(const QString &title, QSizeF size, const std::vector<FunctionPlot> &plots,
                                      const std::function<std::vector<QRectF>(const QRectF &)> &places,
                                      Progress &progress);

} // namespace fulvex
