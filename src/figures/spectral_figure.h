#pragma once

#include "frequency_view.h"
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

} // namespace fulvex
