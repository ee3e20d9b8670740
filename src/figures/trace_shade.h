#pragma once

#include "pyramid.h"

#include <QColor>
#include <QImage>

namespace fulvex {

/// What a trace looks like from afar: each column from its smallest to its largest sample, the darker the longer the
/// signal is there. Rails and passing transitions are told apart; what rises above most columns around it (a rare
/// excursion) is never fainter than `rare`, and nothing within the extremes fainter than `least`.
struct TraceShade {
    static constexpr int least = 40, rare = 255, most = 255; ///< opacity
    /// A picture of columns.size() by `rows` points in the colour, its top row at `high` and its bottom row at `low`.
    static QImage picture(const TraceColumns &columns, double low, double high, int rows, const QColor &ink);
};

} // namespace fulvex
