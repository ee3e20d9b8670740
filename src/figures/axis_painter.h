#pragma once

#include "look.h"

#include <QPainter>
#include <QRectF>
#include <string>
#include <vector>

namespace fulvex {

/// A scale of values low … high in `unit`, linear or logarithmic (0 < low).
struct AxisScale {
    double low = 0, high = 1;
    std::string unit;
    bool logarithmic = false;
    bool alongRecord = false;           ///< times, in the unit that the user prefers for those
    double shareOf(double value) const; ///< 0 at low, 1 at high
    double valueAt(double share) const; ///< the other way round
    bool operator==(const AxisScale &) const = default;
};

/// Of times along a record, s.
AxisScale timeAxis(double from, double to);

struct Tick {
    double value;
    QString label;
};

/// Round values, at most `most` of them, with labels that tell neighbours apart; each but 0 has its unit. Those of a
/// logarithmic scale are powers of ten, with 2 and 5 between them where there is room.
std::vector<Tick> ticksOf(const AxisScale &scale, int most);

/// Ticks as many as there is room for, along or up a plot.
std::vector<Tick> ticksAlong(const AxisScale &x, const QRectF &plot);
std::vector<Tick> ticksUp(const AxisScale &y, const QRectF &plot);

/// Labels of ticks below a plot, from `left` to `right` at most, and left of it.
void paintLabelsBelow(QPainter &painter, const QRectF &plot, const AxisScale &x, const Look &look, double left,
                      double right);
void paintLabelsLeft(QPainter &painter, const QRectF &plot, const AxisScale &y, const Look &look);

/// Grid, tick labels and frame around `plot`; labels go left of and below it.
void paintAxes(QPainter &painter, const QRectF &plot, const AxisScale &x, const AxisScale &y, const Look &look,
               bool xLabels = true);

QString text(const std::string &utf8);
/// An error ratio: "1e-12", "2.5e-9", "0.01".
QString ratioText(double ratio);

/// What a figure shows while there is nothing to show: a sentence that says the next step.
void paintEmpty(QPainter &painter, const QRectF &area, const QString &sentence, const Look &look);

} // namespace fulvex
