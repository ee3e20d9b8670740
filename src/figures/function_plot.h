#pragma once

#include "axis_painter.h"
#include "progress.h"

#include <QImage>
#include <QMargins>
#include <QPicture>
#include <memory>
#include <optional>

namespace fulvex {

/// Curves or bars over two axes, each linear or logarithmic: what histograms, trends, spectra, bathtubs and phase noise
/// have in common. Painted on screen and paper by the same code.
struct FunctionPlot {
    struct Bars { ///< of equal width (equal ratio on a logarithmic axis), from one end of the x axis to the other
        std::vector<double> heights;
        int ink = 3;
        bool operator==(const Bars &) const = default;
    };
    struct Curve { ///< points in order of x; a y that is NaN is a gap
        enum class As { line, dashes, points };
        std::vector<double> x, y;
        int ink = 3; ///< below 0: that of words
        As as = As::line;
        bool faint = false; ///< behind another that says the same more clearly
        bool operator==(const Curve &) const = default;
    };
    struct Rule { ///< a line across at a value of x
        double x;
        QString label;
        bool dashes = false;
        bool operator==(const Rule &) const = default;
    };
    AxisScale x, y;
    bool yLabels = true, xLabels = true;
    QMargins margins{72, 6, 14, 20}; ///< pixels around the plot, where labels go
    std::optional<Bars> bars;
    std::vector<Curve> curves;
    std::optional<std::pair<double, double>> asked; ///< span of x that Evidence is asked about; bars in it stand out
    std::optional<std::pair<double, double>> shown; ///< span of x that something points to
    std::vector<Rule> rules;
    std::shared_ptr<const QImage> picture; ///< below all else, all over the plot
    QStringList words;                     ///< lines in the top right corner
    QRectF plotRect(const QRectF &area) const { return area.marginsRemoved(margins.toMarginsF()); }
};

/// For the interface's thread alone, as all that uses the plotting library.
void paintPlot(QPainter &painter, const QRectF &area, const FunctionPlot &plot, const Look &look);

/// The same as commands for a painter, `size` large, from any thread: recorded on the interface's, whose event loop has
/// to run where this is another one. Throws Cancelled.
QPicture recordedPlot(const FunctionPlot &plot, QSizeF size, const Look &look, Progress &progress);
/// Paints such a picture, on a device of whatever resolution.
void paintRecorded(QPainter &painter, const QRectF &area, const QPicture &picture, QSizeF size);

} // namespace fulvex
