#pragma once

#include "workbench.h"

#include <QPointF>
#include <QRectF>
#include <QString>
#include <string>
#include <vector>

namespace fulvex {

/// Where the Chain draws what: one row a capture, channel, clock and eye, rails that join them.
struct ChainLayout {
    struct Row {
        Selection what;
        QString title, facts;
        int ink = -1;        ///< trace ink; -1: none (captures)
        double x = 0, y = 0; ///< of the node
        bool problem = false;
        QStringList remarks = {}; ///< in full, for when the pointer rests there
        QRectF place(double width) const { return {0, y - rowHeight / 2, width, rowHeight}; }
        bool operator==(const Row &) const = default;
    };
    struct Rail {
        QPointF from, to;
        int ink;
        bool operator==(const Rail &) const = default;
    };
    static constexpr double rowHeight = 34, indent = 22;
    std::vector<Row> rows;
    std::vector<Rail> rails;
    double height = 0;
};

/// Top down as the data flows: each capture with its channels, formulas after the channels they join, clocks off their
/// channel, eyes and masks off their clock.
ChainLayout chainLayout(const Document &document, const Results *results);

} // namespace fulvex
