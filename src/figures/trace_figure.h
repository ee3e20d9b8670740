#pragma once

#include "axis_painter.h"
#include "results.h"

#include <optional>

namespace fulvex {

/// Traces over a span of time, overlaid or one lane each: what to draw, ready for the painter. Cheap to make whatever
/// the length of the record (see traceColumns); reads at most 256 samples a pixel column.
struct TraceFigure {
    struct Line {
        std::string id;
        QString name, unit, error;
        int ink = 0;
        int lane = 0;
        std::vector<Extent> columns;  ///< extents per pixel column, when far
        std::vector<QPointF> samples; ///< (s, value) when close; NaN for gaps
        double low = 0, high = 1;     ///< value range of its lane
    };
    struct Mark { ///< a moment or span that something points to
        double from, to;
        int lane = -1; ///< -1: all lanes
        QColor wash;
    };
    struct Pin {
        double time, value;
        int lane;
        QString text;
        std::string id;
    };
    struct Point { ///< between which points a value was measured
        double time, value;
        int lane;
    };
    double from = 0, to = 1; ///< s
    int lanes = 1;
    std::vector<Line> lines;
    std::vector<Mark> marks;
    std::vector<Pin> notes;
    std::vector<Point> points;
    std::vector<double> clockInstants; ///< s, unit interval boundaries, when few enough to see
    std::vector<double> markers;       ///< s, the user's (up to two)

    QRectF plotRect(const QRectF &area) const;
    QRectF laneRect(const QRectF &area, int lane) const;
    double xOf(const QRectF &area, double time) const;
    double valueAt(const QRectF &area, int lane, double y) const;
    int laneAt(const QRectF &area, double y) const;
};

/// The lines of a traces tile; `pixels` is the width of the plot. Ink follows the channel's place in the document.
TraceFigure traceFigure(const Results &results, const TileEntry &tile, double from, double to, int pixels);

/// The record's whole span over the channels of a tile (all channels when it names none); empty without any.
std::optional<std::pair<double, double>> wholeSpan(const Results &results, const std::vector<std::string> &channels);

/// Ink index of a channel.
int inkOf(const Document &document, const std::string &channel);

void paintTraces(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look);

} // namespace fulvex
