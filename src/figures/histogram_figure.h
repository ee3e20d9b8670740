#pragma once

#include "function_plot.h"
#include "row_figure.h"
#include "value_peaks.h"

namespace fulvex {

/// What of populations is counted and sorted for a histogram. May be made on any thread.
struct HistogramDrawing {
    struct From {
        std::vector<std::shared_ptr<const Measured>> rows;
        std::optional<int> bins;                        ///< as many as fit
        std::optional<std::pair<double, double>> times; ///< s: only what begins there
        bool operator==(const From &) const = default;
    };
    static HistogramDrawing of(const From &from);

    struct One {
        ValueHistogram histogram; ///< all between the same values
        Statistics statistics;
        double median = 0;
        std::vector<ValuePeak> peaks;
    };
    From from;
    std::vector<One> rows;
};

/// The distribution of measured quantities: the first as bars, others as lines.
struct HistogramFigure : RowFigure {
    std::shared_ptr<const Measured> values;
    ValueHistogram histogram;                                 ///< of the first
    std::shared_ptr<const HistogramDrawing> drawing;          ///< null: not made yet; may be of something older
    TileEntry tile;                                           ///< how it is shown
    std::optional<std::pair<double, double>> view;            ///< s, where only that is shown
    std::optional<std::pair<std::size_t, std::size_t>> asked; ///< bars that Evidence is asked about, first and last
    struct Marker {
        std::string id;
        QString letter;
        double value;
        bool operator==(const Marker &) const = default;
    };
    std::vector<Marker> markers;
    void mark(const std::vector<MarkerEntry> &all); ///< takes those of its row
    /// A value as a marker is let go at: a peak's, where that is near.
    double rested(const QRectF &plot, double value) const;
    /// The marker at a place of the plot; null beside them.
    const Marker *markerAt(const QRectF &plot, double x) const;
    double valueAt(const QRectF &plot, double x) const;
    bool operator==(const HistogramFigure &) const = default;
    /// What its drawing is made from; none where there is nothing to draw.
    std::optional<HistogramDrawing::From> drawingFrom() const;
    /// Takes a drawing, where it is of the same rows.
    void take(std::shared_ptr<const HistogramDrawing> made);
    /// The bar at a place of the plot; none beside it.
    std::optional<std::size_t> barAt(const QRectF &plot, double x) const;
    QMargins margins() const { return tile.logCounts ? QMargins(72, 6, 14, 20) : QMargins(20, 6, 16, 20); }
    QRectF plotRect(const QRectF &area) const { return area.marginsRemoved(margins().toMarginsF()); }
    FunctionPlot plot() const;
};

/// `view`: what is in view, for tiles that show only that.
HistogramFigure histogramFigure(const Results &results, const TileEntry &tile, std::pair<double, double> view);
/// Of one row, as a tile would show it that nothing was chosen for.
HistogramFigure histogramFigure(const Results &results, const std::string &measurementId);
/// For the interface's thread.
void paintHistogram(QPainter &painter, const QRectF &area, const HistogramFigure &figure, const Look &look);

} // namespace fulvex
