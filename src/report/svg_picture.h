#pragma once

#include <QPainter>
#include <QString>
#include <functional>

namespace fulvex {

/// What a painter draws on an area so large, as an SVG element that may stand within HTML: lines and words stay lines
/// and words, clipped as they were drawn; images are embedded. `id`: unique in the document, for what the element
/// refers to within itself. From any thread. Source: Scalable Vector Graphics 1.1, W3C.
QString svgPicture(QSizeF size, const QString &id, const std::function<void(QPainter &, const QRectF &)> &paint);

} // namespace fulvex
