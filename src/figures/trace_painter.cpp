#include "trace_figure.h"

#include <QVarLengthArray>
#include <cmath>

namespace fulvex {

namespace {

QPen tracePen(const Look &look, int ink, double width)
{
    QPen pen(look.trace(ink), width);
    pen.setCapStyle(Qt::SquareCap); // round ones cost ten times as much, on every stroke
    return pen;
}

/// Far away: one vertical stroke a pixel column from the smallest to the largest sample in it, drawn to meet its
/// neighbour, so that a rare spike is never lost and steep traces stay whole.
void paintColumns(QPainter &painter, const QRectF &rect, const TraceFigure::Line &line)
{
    const double width = rect.width() / double(line.columns.size()), scale = rect.height() / (line.high - line.low);
    const auto y = [&](double value) { return rect.bottom() - (value - line.low) * scale; };
    QVarLengthArray<QLineF, 2048> strokes;
    Extent before{1, 0};
    for (std::size_t i = 0; i < line.columns.size(); ++i) {
        Extent now = line.columns[i];
        if (!now.empty()) {
            const double x = rect.left() + (double(i) + 0.5) * width;
            double low = now.low, high = now.high;
            if (!before.empty()) {
                if (before.low > high) high = before.low;
                if (before.high < low) low = before.high;
            }
            const double top = y(high), bottom = y(low);
            strokes.append(QLineF(x, top, x, std::max(bottom, top + 1)));
        }
        before = now;
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.drawLines(strokes.constData(), int(strokes.size()));
}

void paintSamples(QPainter &painter, const QRectF &rect, const TraceFigure &figure, const TraceFigure::Line &line)
{
    const double perSecond = rect.width() / (figure.to - figure.from), scale = rect.height() / (line.high - line.low);
    const auto at = [&](QPointF sample) {
        return QPointF(rect.left() + (sample.x() - figure.from) * perSecond,
                       rect.bottom() - (sample.y() - line.low) * scale);
    };
    painter.setRenderHint(QPainter::Antialiasing, true);
    // Single strokes: one long polyline would be filled as a whole, at a cost that grows with its crossings of itself.
    QVarLengthArray<QLineF, 2048> strokes;
    for (std::size_t i = 1; i < line.samples.size(); ++i) {
        const bool gap = std::isnan(line.samples[i].y()) || std::isnan(line.samples[i - 1].y());
        if (!gap) strokes.append(QLineF(at(line.samples[i - 1]), at(line.samples[i])));
    }
    painter.drawLines(strokes.constData(), int(strokes.size()));
    const double spacing = line.samples.size() > 1 ? (line.samples[1].x() - line.samples[0].x()) * perSecond : 0;
    if (spacing < 7) return;
    painter.setBrush(painter.pen().color());
    for (const QPointF &sample : line.samples) {
        if (!std::isnan(sample.y())) painter.drawEllipse(at(sample), 1.8, 1.8);
    }
    painter.setBrush(Qt::NoBrush);
}

void paintMarks(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    for (const TraceFigure::Mark &mark : figure.marks) {
        const QRectF lane = mark.lane < 0 ? plot : figure.laneRect(area, mark.lane);
        const double left = std::max(plot.left(), figure.xOf(area, mark.from)),
                     right = std::min(plot.right(), figure.xOf(area, mark.to));
        if (right >= left)
            painter.fillRect(QRectF(left, lane.top(), std::max(2.0, right - left), lane.height()), mark.wash);
    }
    if (figure.clockInstants.empty()) return;
    painter.setPen(QPen(look.hairline.darker(115), 0.8));
    for (const double instant : figure.clockInstants) {
        const double x = figure.xOf(area, instant);
        painter.drawLine(QPointF(x, plot.bottom() - 7), QPointF(x, plot.bottom()));
    }
}

double yOf(const QRectF &area, const TraceFigure &figure, int lane, double value)
{
    const QRectF rect = figure.laneRect(area, lane);
    for (const auto &line : figure.lines) {
        if (line.lane == lane) return rect.bottom() - (value - line.low) / (line.high - line.low) * rect.height();
    }
    return rect.center().y();
}

void paintNotes(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    painter.setFont(look.font(11));
    for (const TraceFigure::Pin &note : figure.notes) {
        const double x = figure.xOf(area, note.time);
        if (x < plot.left() || x > plot.right()) continue;
        const QRectF lane = figure.laneRect(area, note.lane);
        const double y = std::clamp(yOf(area, figure, note.lane, note.value), lane.top() + 4, lane.bottom() - 4);
        const double width = QFontMetricsF(painter.font()).horizontalAdvance(note.text) + 14;
        const bool leftwards = x + 26 + width > plot.right();
        QRectF box(leftwards ? x - 26 - width : x + 26, y - 34 < lane.top() ? y + 14 : y - 34, width, 20);
        painter.setPen(QPen(look.ink, 1));
        painter.drawLine(QPointF(x, y), leftwards ? box.bottomRight() : box.bottomLeft());
        painter.setBrush(look.tile);
        painter.drawRoundedRect(box, 3, 3);
        painter.drawText(box, Qt::AlignCenter, note.text);
        painter.setBrush(look.ink);
        painter.drawEllipse(QPointF(x, y), 2.2, 2.2);
    }
}

void paintPointsAndMarkers(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    painter.setPen(QPen(look.accent, 1.2));
    painter.setBrush(look.tile);
    for (const TraceFigure::Point &point : figure.points) {
        const double x = figure.xOf(area, point.time);
        if (x >= plot.left() && x <= plot.right())
            painter.drawEllipse(QPointF(x, yOf(area, figure, point.lane, point.value)), 3.4, 3.4);
    }
    painter.setFont(look.font(10, true));
    for (std::size_t i = 0; i < figure.markers.size(); ++i) {
        const double x = figure.xOf(area, figure.markers[i]);
        if (x < plot.left() || x > plot.right()) continue;
        QPen pen(look.ink, 1);
        pen.setStyle(i == 0 ? Qt::SolidLine : Qt::DashLine);
        painter.setPen(pen);
        painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()));
        const QRectF flag(x - 8, plot.top() - 2, 16, 14);
        painter.fillRect(flag, look.ink);
        painter.setPen(look.tile);
        painter.drawText(flag, Qt::AlignCenter, i == 0 ? "a" : "b");
    }
}

void paintNames(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    painter.setFont(look.font(11, true));
    const QFontMetricsF metrics(painter.font());
    std::vector<double> used(std::size_t(figure.lanes), 0);
    for (const auto &line : figure.lines) {
        const QRectF lane = figure.laneRect(area, line.lane);
        const double width = metrics.horizontalAdvance(line.name) + 8;
        const QRectF box(lane.right() - width - used[std::size_t(line.lane)] - 4, lane.top() + 3, width, 15);
        used[std::size_t(line.lane)] += width + 4;
        QColor back = look.tile;
        back.setAlpha(215);
        painter.fillRect(box, back);
        painter.setPen(look.trace(line.ink));
        painter.drawText(box, Qt::AlignCenter, line.name);
        if (line.error.isEmpty()) continue;
        painter.setPen(look.fail);
        painter.drawText(lane.adjusted(8, 8, -8, -8), Qt::AlignCenter | Qt::TextWordWrap, line.error);
    }
}

} // namespace

void paintTraces(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    if (figure.lines.empty()) {
        paintEmpty(painter, area, "No trace here yet: drag a channel from the Chain to this tile.", look);
        return;
    }
    painter.save();
    for (int lane = 0; lane < figure.lanes; ++lane) {
        for (const auto &line : figure.lines) {
            if (line.lane != lane) continue;
            paintAxes(painter, figure.laneRect(area, lane), {figure.from, figure.to, "s"},
                      {line.low, line.high, line.unit.toStdString()}, look, lane + 1 == figure.lanes);
            break;
        }
    }
    paintMarks(painter, area, figure, look);
    for (const auto &line : figure.lines) {
        const QRectF rect = figure.laneRect(area, line.lane);
        painter.save();
        painter.setClipRect(rect, Qt::IntersectClip);
        painter.setPen(tracePen(look, line.ink,
                                line.columns.empty()
                                    ? 1.3
                                    : std::max(1.0, rect.width() / std::max<double>(1, double(line.columns.size())))));
        if (!line.columns.empty())
            paintColumns(painter, rect, line);
        else
            paintSamples(painter, rect, figure, line);
        painter.restore();
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
    paintNames(painter, area, figure, look);
    paintNotes(painter, area, figure, look);
    paintPointsAndMarkers(painter, area, figure, look);
    painter.restore();
}

} // namespace fulvex
