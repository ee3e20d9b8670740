#pragma once

#include "results.h"

#include <QString>
#include <QStringList>

namespace fulvex {

/// What pictures of a measured quantity's values have in common: what they are of, and why there are none.
struct RowFigure {
    std::string measurement;
    QString title, facts;
    QString empty;          ///< not empty: nothing to draw, and why
    QStringList statistics; ///< lines beside the values
    std::string unit;
    int ink = 3;
    bool operator==(const RowFigure &) const = default;
};

/// `what`: the picture's kind as a title ("Histogram"); `ofOne`: what is said of a quantity that is one number.
RowFigure rowFigure(const Results &results, const std::string &measurementId, const QString &what,
                    const QString &ofOne);

} // namespace fulvex
