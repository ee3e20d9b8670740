#pragma once

#include "look.h"

#include <QPainter>
#include <QRectF>
#include <QString>

namespace fulvex {

/// What somebody wrote on a sheet, in Markdown; links lead to sheets: [Link eye](#link_eye).
struct WordsFigure {
    QString words;
    double scrolled = 0;   ///< pixels of them that have gone by above
    QString title() const; ///< of its first heading, without one its first words
    double heightAt(double width, const Look &look) const;
    QString linkAt(const QRectF &area, const QPointF &place, const Look &look) const; ///< "#link_eye"; empty: none
    bool operator==(const WordsFigure &) const = default;
};

/// What does not fit is cut off below.
void paintWords(QPainter &painter, const QRectF &area, const WordsFigure &figure, const Look &look);

} // namespace fulvex
