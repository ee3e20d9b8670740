#pragma once

#include "results.h"

#include <QString>
#include <QStringList>

namespace fulvex {

/// What pictures of measured quantities' values have in common: what they are of, and why there are none.
struct RowFigure {
    std::string measurement; ///< the first
    QString title, facts;
    QString empty;          ///< not empty: nothing to draw, and why
    QStringList statistics; ///< lines beside the values
    std::string unit;
    int ink = 3;
    struct Also { ///< another one beside it, in the same unit
        QString name;
        int ink;
        std::shared_ptr<const Measured> values;
        bool operator==(const Also &) const = default;
    };
    std::vector<Also> also;
    QStringList leftOut; ///< those that cannot be shown beside it, and why
    bool operator==(const RowFigure &) const = default;
};

/// `what`: the picture's kind as a title ("Histogram"); `ofOne`: what is said of a quantity that is one number.
RowFigure rowFigure(const Results &results, const std::string &measurementId, const QString &what,
                    const QString &ofOne);
/// The same of several; those behind the first are shown beside it where they have values in its unit.
RowFigure rowsFigure(const Results &results, const std::vector<std::string> &measurementIds, const QString &what,
                     const QString &ofOne);

} // namespace fulvex
