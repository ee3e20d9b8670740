#pragma once

#include "frequency_view.h"
#include "function_plot.h"
#include "row_figure.h"
#include "trend_spectrum.h"

namespace fulvex {

/// What a quantity's trend is made of, as few lines as can be told apart. May be made on any thread.
struct SpectrumDrawing {
    struct From {
        std::shared_ptr<const Measured> values;
        std::string window;
        bool operator==(const From &) const = default;
    };
    static SpectrumDrawing of(const From &from);
    From from;
    TrendSpectrum spectrum;
};

/// Amplitude over frequency of a measured quantity's trend.
struct SpectrumFigure : RowFigure {
    std::shared_ptr<const Measured> values;
    TileEntry tile;                                 ///< how it is shown
    std::shared_ptr<const SpectrumDrawing> drawing; ///< null: not made yet
    std::optional<double> asked;                    ///< Hz, that Evidence is asked about
    bool operator==(const SpectrumFigure &) const = default;
    std::optional<SpectrumDrawing::From> drawingFrom() const;
    void take(std::shared_ptr<const SpectrumDrawing> made); ///< where it is of the same row
    FrequencyView view() const;
    /// The frequency of the highest line around a place of the plot, between lines where it is a listed peak.
    std::optional<double> lineAt(const QRectF &plot, double x) const;
    FunctionPlot plot(double columns = 800) const;
};

SpectrumFigure spectrumFigure(const Results &results, const TileEntry &tile);
/// For the interface's thread.
void paintSpectrum(QPainter &painter, const QRectF &area, const SpectrumFigure &figure, const Look &look);

} // namespace fulvex
