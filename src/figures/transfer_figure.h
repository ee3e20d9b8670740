#pragma once

#include "function_plot.h"
#include "spectral_figure.h"

namespace fulvex {

/// Magnitude, phase and coherence, as fine as there are pixels: lines that share a column are averaged as powers and
/// cross powers. May be made on any thread.
struct TransferDrawing {
    struct From {
        std::shared_ptr<const TransferFunction> transfer;
        AxisScale x;
        double columns = 800;
        bool withoutDelay = false;
        bool operator==(const From &) const = default;
    };
    static TransferDrawing of(const From &from);
    From from;
    TransferFunction::Delay delay;
    std::vector<double> frequencies, decibels, degrees, coherences;
    std::vector<bool> coheres; ///< more than by chance
};

struct TransferFigure : SpectralFigure {
    std::shared_ptr<const TransferFunction> transfer;
    std::shared_ptr<const TransferDrawing> drawing;
    std::string decibels = "dB";   ///< of the magnitude: what 0 is, where the channels have unlike units
    std::optional<double> pointed; ///< Hz, where the pointer is
    bool operator==(const TransferFigure &) const = default;
    FrequencyView view() const;
    std::optional<TransferDrawing::From> drawingFrom(double columns) const;
    void take(std::shared_ptr<const TransferDrawing> made);
    /// Magnitude, phase and coherence, one below the other.
    std::vector<FunctionPlot> plots() const;
    QString wordsAt(double frequency) const; ///< what it is there
};

TransferFigure transferFigure(const Results &results, const TileEntry &tile);
/// Where each of its plots goes.
std::vector<QRectF> transferAreas(const QRectF &area);
/// For the interface's thread.
void paintTransfer(QPainter &painter, const QRectF &area, const TransferFigure &figure, const Look &look);

} // namespace fulvex
