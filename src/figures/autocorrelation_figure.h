#pragma once

#include "function_plot.h"
#include "spectral_figure.h"

namespace fulvex {

/// Coefficients over lag, as fine as there are pixels. May be made on any thread.
struct AutocorrelationDrawing {
    struct From {
        std::shared_ptr<const Autocorrelation> correlation;
        AxisScale x;
        double columns = 800;
        bool operator==(const From &) const = default;
    };
    static AutocorrelationDrawing of(const From &from);
    From from;
    std::vector<double> lags, coefficients; ///< of a column with many the lowest and the highest
    std::vector<Autocorrelation::Peak> peaks;
};

struct AutocorrelationFigure : SpectralFigure {
    std::shared_ptr<const Autocorrelation> correlation;
    std::shared_ptr<const AutocorrelationDrawing> drawing;
    bool operator==(const AutocorrelationFigure &) const = default;
    FrequencyView view() const; ///< of lags
    std::optional<AutocorrelationDrawing::From> drawingFrom(double columns) const;
    void take(std::shared_ptr<const AutocorrelationDrawing> made);
    FunctionPlot plot() const;
};

AutocorrelationFigure autocorrelationFigure(const Results &results, const TileEntry &tile);

} // namespace fulvex
