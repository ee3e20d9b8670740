#pragma once

#include "axis_painter.h"
#include "results.h"
#include "trace_drawing.h"
#include "trace_stack.h"

#include <optional>

namespace fulvex {

/// Traces over a span of time, overlaid or one lane each: what is to be seen, and where. What takes time, the lines'
/// drawings, comes apart: `draw` makes them at once, a window has them made beside the interface.
struct TraceFigure {
    struct Line {
        std::string id;
        QString name, unit, error;
        int ink = 0;
        double dash =
            0; ///< pixels of a dash, and two thirds of it or as much between; 0: solid. From afar all are solid
        int lane = 0;
        std::shared_ptr<const SampleSource> source;
        std::shared_ptr<const Pyramid> pyramid;
        std::shared_ptr<const TraceDrawing> drawing; ///< null: not made yet; may be of another span and scale
        struct Other {                               ///< the same channel of another capture
            std::shared_ptr<const SampleSource> source;
            std::shared_ptr<const Pyramid> pyramid;
            double strength = 1; ///< that it is drawn with, beneath the line
        };
        std::vector<Other> behind;                ///< the lowest first
        std::shared_ptr<const TraceStack> others; ///< drawn; as the drawing
        double low = 0, high = 1;                 ///< values at the bottom and top of its lane
        bool ownRange = false;                    ///< set by the user, not by the record's extremes
    };
    struct Mark { ///< a moment or span that something points to
        double from, to;
        int lane = -1; ///< -1: all lanes
        QColor wash;
    };
    struct Region {
        std::string id;
        double from, to; ///< s
    };
    struct Pin { ///< a note
        double time, value;
        int line; ///< index of the line it is pinned to
        QString text;
        std::string id;
        QPointF box;  ///< from the pin to the box's top left, pixels; null: beside the pin
        double width; ///< of the box, pixels; 0: as wide as its text
    };
    struct Point { ///< between which points a value was measured
        double time, value;
        int line;
    };
    struct Level { ///< a reference level of the selected row
        int line;
        double value;
        int which;       ///< 0 low, 1 mid, 2 high
        std::string set; ///< id of the levels that it belongs to, or of the row, where it has that one of its own
        QString words;
        double low, high; ///< of the states that percentages lie between
    };
    struct Dimension { ///< what was measured between instants, or at one
        int line;
        std::vector<double> instants; ///< s
        QString words;
        bool betweenChannels = false; ///< across all lanes
    };
    struct Marker {
        std::string id;
        QString letter;              ///< a, b, …
        int line = -1;               ///< -1: free
        std::optional<double> time;  ///< s
        std::optional<double> value; ///< its own level, or the trace's value at its time
        bool sitsOnTrace = false;
    };
    struct Stop { ///< a measured level that markers come to rest on
        int line;
        double value;
    };
    /// A level of a line as it is let go at: a measured one where it is that near.
    double rested(const QRectF &area, int line, double value) const;
    std::vector<Stop> stops;
    double from = 0, to = 1; ///< s
    bool straight = false;   ///< straight lines between samples
    int lanes = 1;
    std::vector<double> heights; ///< of the lanes, relative; 1 where missing
    std::vector<Line> lines;
    std::vector<Mark> marks;
    std::vector<Region> regions;
    std::vector<Pin> notes;
    std::vector<Point> points;
    std::vector<Marker> markers;
    std::vector<Level> levels;
    std::optional<Dimension> dimension;
    std::vector<double> clockInstants; ///< s, unit interval boundaries, when few enough to see
    struct Symbol {
        double from, to; ///< s
        char word;       ///< a digit; ? where it is not known
        bool wrong;      ///< a row counts it as an error
    };
    std::vector<Symbol> symbols; ///< of the clock's channel, when few enough to see
    int symbolLane = 0;
    std::string chosen;   ///< channel whose scale an axis shows before others of its lane
    bool handles = false; ///< grips for the hand; pictures and reports have none

    /// What a line's drawing is made from; none where it has no samples.
    std::optional<TraceDrawing::From> drawingFrom(const QRectF &area, int line, const Look &look) const;
    /// What those of other captures are made from; none where there are none.
    std::optional<TraceStack::From> othersFrom(const QRectF &area, int line, const Look &look) const;
    /// Makes the drawings of all lines, for that area.
    void draw(const QRectF &area, const Look &look);
    QRectF plotRect(const QRectF &area) const;
    QRectF laneRect(const QRectF &area, int lane) const;
    double heightOf(int lane) const;
    double xOf(const QRectF &area, double time) const;
    double timeAt(const QRectF &area, double x) const;
    double yOf(const QRectF &area, int line, double value) const;
    double valueAt(const QRectF &area, int line, double y) const;
    int laneAt(const QRectF &area, double y) const;
    int lineOf(const std::string &channel) const; ///< -1: not shown here
    int axisLine(int lane) const;                 ///< whose scale the lane's axis shows; -1 for an empty lane
    QRectF noteBox(const QRectF &area, const Pin &note, const Look &look) const;
    QRectF handleBox(const QRectF &area, int line) const; ///< the grip at a line's zero, where it has handles
    QRectF regionFlag(const QRectF &area, const Region &region, const Look &look) const;
};

/// The lines of a traces tile, not drawn yet, with the document's notes, markers and regions. Ink follows the channel's
/// place in the document. `document` may be a later one than the results'.
TraceFigure traceFigure(const Results &results, const Document &document, const TileEntry &tile, double from,
                        double to);

/// Ink index of a channel: the one that was chosen for it, or by its place in the document.
int inkOf(const Document &document, const std::string &channel);

/// A marker's letter, a, b, … z, then numbers, by its place among those of the traces, or of its row.
QString markerLetter(const std::vector<MarkerEntry> &markers, const MarkerEntry &marker);

void paintTraces(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look);

} // namespace fulvex
