#include "mask_painter.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

QPointF EyeWindow::pointOf(double ui, double value) const
{
    return {plot.left() + (ui - left) / (right - left) * plot.width(),
            plot.bottom() - (value - low) / (high - low) * plot.height()};
}

QPointF EyeWindow::valuesAt(QPointF point) const
{
    return {left + (point.x() - plot.left()) / plot.width() * (right - left),
            low + (plot.bottom() - point.y()) / plot.height() * (high - low)};
}

static QPolygonF outline(const MaskShape &shape, const EyeWindow &window)
{
    QPolygonF polygon;
    for (const MaskPoint &point : shape.points()) polygon << window.pointOf(point.x, point.y);
    if (shape.kind() == MaskArea::Kind::closed) return polygon;
    const double edge = shape.kind() == MaskArea::Kind::above ? window.plot.top() : window.plot.bottom();
    return polygon << QPointF(polygon.last().x(), edge) << QPointF(polygon.first().x(), edge);
}

void paintMask(QPainter &painter, const EyeWindow &window, const std::vector<MaskShape> &areas, const Look &look)
{
    const QColor slate = look.dark ? QColor("#9FB0BF") : QColor("#5E6B75");
    for (const MaskShape &shape : areas) {
        const QPolygonF polygon = outline(shape, window);
        QColor hatch = slate;
        hatch.setAlpha(150);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QBrush(hatch, Qt::BDiagPattern));
        painter.drawPolygon(polygon);
        painter.setPen(QPen(slate, 1.3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(polygon);
    }
}

void paintMaskOutline(QPainter &painter, const EyeWindow &window, const std::vector<MaskShape> &areas, const Look &look)
{
    painter.setPen(QPen(look.dark ? QColor("#9FB0BF") : QColor("#5E6B75"), 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    for (const MaskShape &shape : areas) painter.drawPolygon(outline(shape, window));
}

QImage maskDrawing(const MaskDefinition &mask, QSize size, const Look &look)
{
    QImage image(size * 2, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(2);
    image.fill(look.tile);
    double low = mask.normalised ? 0 : INFINITY, high = mask.normalised ? 1 : -INFINITY;
    std::vector<MaskShape> shapes;
    for (const MaskArea &area : mask.areas) {
        shapes.push_back(MovableArea(area, mask, 0, 1).at(0));
        for (const MaskPoint &point : shapes.back().points()) {
            low = std::min(low, point.y);
            high = std::max(high, point.y);
        }
    }
    if (!(high > low)) return image;
    const double pad = 0.12 * (high - low);
    double left = 0, right = mask.seconds ? -INFINITY : 1;
    for (const MaskShape &shape : shapes) {
        if (!mask.seconds) break; // an eye's is drawn between its crossings
        left = std::min(left, shape.left());
        right = std::max(right, shape.right());
    }
    const double beside = 0.12 * (right - left);
    const EyeWindow window{QRectF(QPointF(0, 0), size), left - beside, right + beside, low - pad, high + pad};
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(look.hairline, 1));
    for (const double ui : mask.seconds ? std::vector{0.0} : std::vector{0.0, 1.0})
        painter.drawLine(window.pointOf(ui, window.low), window.pointOf(ui, window.high));
    for (const double level : {0.0, 1.0}) {
        if (mask.normalised) painter.drawLine(window.pointOf(window.left, level), window.pointOf(window.right, level));
    }
    paintMask(painter, window, shapes, look);
    painter.setPen(QPen(look.hairline, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(window.plot.adjusted(0.5, 0.5, -0.5, -0.5));
    return image;
}

} // namespace fulvex
