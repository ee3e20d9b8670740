#pragma once

#include "look.h"

#include <QPainter>
#include <QRectF>
#include <string>
#include <vector>

namespace fulvex {

/// A linear scale: values low … high in `unit`.
struct AxisScale {
    double low = 0, high = 1;
    std::string unit;
    double shareOf(double value) const { return (value - low) / (high - low); }
};

struct Tick {
    double value;
    QString label;
};

/// Round values, at most `most` of them, with labels that tell neighbours apart; each but 0 has its unit.
std::vector<Tick> ticksOf(const AxisScale &scale, int most);

/// Grid, tick labels and frame around `plot`; labels go left of and below it.
void paintAxes(QPainter &painter, const QRectF &plot, const AxisScale &x, const AxisScale &y, const Look &look,
               bool xLabels = true);

QString text(const std::string &utf8);

/// What a figure shows while there is nothing to show: a sentence that says the next step.
void paintEmpty(QPainter &painter, const QRectF &area, const QString &sentence, const Look &look);

} // namespace fulvex
