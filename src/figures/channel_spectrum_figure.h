#pragma once

#include "function_plot.h"
#include "spectral_figure.h"

namespace fulvex {

/// Amplitude over frequency of a channel, as fine as there are pixels. May be made on any thread.
struct ChannelSpectrumDrawing {
    struct From {
        std::shared_ptr<const Spectrum> spectrum;
        AxisScale x;
        double columns = 800;
        std::optional<double> marked; ///< Hz
        bool operator==(const From &) const = default;
    };
    static ChannelSpectrumDrawing of(const From &from);
    From from;
    std::vector<double> frequencies, densities; ///< the highest line of each column
    std::vector<double> floor;                  ///< densities, there
    std::optional<SpectralLine> marked;         ///< the chosen line
    std::vector<Harmonic> harmonics;            ///< of it
    double floorInView = 0;                     ///< unit² / Hz
};

struct ChannelSpectrumFigure : SpectralFigure {
    std::shared_ptr<const Spectrum> spectrum;
    std::shared_ptr<const ChannelSpectrumDrawing> drawing;
    std::optional<std::pair<double, double>> asked; ///< Hz, that Evidence is asked about
    bool operator==(const ChannelSpectrumFigure &) const = default;
    FrequencyView view() const;
    std::optional<ChannelSpectrumDrawing::From> drawingFrom(double columns) const;
    void take(std::shared_ptr<const ChannelSpectrumDrawing> made);
    /// The listed line, or the highest, around a place of the plot.
    std::optional<double> lineAt(const QRectF &plot, double x) const;
    QString levelText(double power) const; ///< of a line, in the tile's scale
    FunctionPlot plot() const;
};

ChannelSpectrumFigure channelSpectrumFigure(const Results &results, const TileEntry &tile);

} // namespace fulvex
