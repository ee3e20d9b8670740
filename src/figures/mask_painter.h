#pragma once

#include "look.h"
#include "mask_geometry.h"

#include <QImage>
#include <QPainter>

namespace fulvex {

/// What a rectangle shows of an eye: unit intervals from left to right, values from bottom to top.
struct EyeWindow {
    QRectF plot;
    double left, right, low, high;
    QPointF pointOf(double ui, double value) const;
    QPointF valuesAt(QPointF point) const;
};

/// Areas, hatched, on what is painted already.
void paintMask(QPainter &painter, const EyeWindow &window, const std::vector<MaskShape> &areas, const Look &look);

/// Only their outlines, dotted: where they might be.
void paintMaskOutline(QPainter &painter, const EyeWindow &window, const std::vector<MaskShape> &areas,
                      const Look &look);

/// A small drawing of a mask by itself, the unit interval and the state levels marked.
QImage maskDrawing(const MaskDefinition &mask, QSize size, const Look &look);

} // namespace fulvex
