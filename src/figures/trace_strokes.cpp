#include "trace_strokes.h"

#include <QVarLengthArray>
#include <algorithm>
#include <cmath>

namespace fulvex {

QPen tracePen(const QColor &ink, double width)
{
    QPen pen(ink, width);
    pen.setCapStyle(Qt::SquareCap); // round ones cost ten times as much, on every stroke
    return pen;
}

/// Strokes from point to point, broken at gaps, and by dashes along the way where `dash` is not 0. Single strokes: one
/// long polyline would be filled as a whole, at a cost that grows with its crossings of itself.
template <typename At>
static void paintStrokes(QPainter &painter, const std::vector<QPointF> &points, double dash, At &&at)
{
    QVarLengthArray<QLineF, 2048> strokes;
    const double period = dash + std::max(3.0, dash * 2 / 3);
    double way = 0; // along the line
    for (std::size_t i = 1; i < points.size(); ++i) {
        if (std::isnan(points[i].y()) || std::isnan(points[i - 1].y())) continue;
        const QLineF whole(at(points[i - 1]), at(points[i]));
        if (dash == 0) {
            strokes.append(whole);
            continue;
        }
        constexpr double longest = 1e4; // pixels: farther than anything shown
        const double length = std::min(whole.length(), longest);
        for (double done = 0; done < length;) {
            const double within = std::fmod(way + done, period), next = within < dash ? dash : period;
            const double step = std::min(length - done, std::max(next - within, 0.25));
            if (within < dash && whole.length() <= longest)
                strokes.append(QLineF(whole.pointAt(done / length), whole.pointAt((done + step) / length)));
            done += step;
        }
        way += length;
    }
    painter.drawLines(strokes.constData(), int(strokes.size()));
}

void paintSamples(QPainter &painter, const QRectF &rect, const TraceDrawing &drawing, const TraceSpan &span,
                  double dash)
{
    const double perSecond = rect.width() / (span.to - span.from), scale = rect.height() / (span.high - span.low);
    const auto at = [&](QPointF sample) {
        return QPointF(rect.left() + (sample.x() - span.from) * perSecond,
                       rect.bottom() - (sample.y() - span.low) * scale);
    };
    painter.setRenderHint(QPainter::Antialiasing, true);
    const auto &samples = drawing.samples, &curve = drawing.curve;
    paintStrokes(painter, curve.empty() ? samples : curve, dash, at);
    const double spacing = samples.size() > 1 ? (samples[1].x() - samples[0].x()) * perSecond : 0;
    if (spacing < 7) return;
    painter.setBrush(painter.pen().color());
    for (const QPointF &sample : samples) {
        if (!std::isnan(sample.y())) painter.drawEllipse(at(sample), 1.8, 1.8);
    }
    painter.setBrush(Qt::NoBrush);
}

} // namespace fulvex
