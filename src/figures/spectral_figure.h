#pragma once

#include "frequency_view.h"
#include "function_plot.h"
#include "results.h"

#include <QString>

namespace fulvex {

/// What pictures of spectra have in common: what they are of, and why there is none.
struct SpectralFigure {
    std::string id;
    QString title, facts;
    QString empty; ///< not empty: nothing to draw, and why
    std::string unit, source;
    int ink = 3;
    TileEntry tile; ///< how it is shown
    bool operator==(const SpectralFigure &) const = default;
};

/// `result`: null where there is none yet.
SpectralFigure spectralFigure(const Results &results, const TileEntry &tile, const SpectrumResult *&result);
void addFact(QString &facts, const QString &more);
/// Of decibels of an amplitude, 0 at an rms of 1 in its unit.
std::string decibelUnit(const std::string &unit);

/// Paints a figure's plot, or why there is none. For the interface's thread.
template <typename Figure>
void paintSpectral(QPainter &painter, const QRectF &area, const Figure &figure, const Look &look)
{
    if (!figure.empty.isEmpty())
        paintEmpty(painter, area, figure.empty, look);
    else if (!figure.drawing)
        paintEmpty(painter, area, "Transforming…", look);
    else
        paintPlot(painter, area, figure.plot(), look);
}

} // namespace fulvex
