#include "number_text.h"
#include "trace_figure.h"
#include "trace_strokes.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// Where each line has its zero, and the grip to move it by.
void paintBaselines(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (int i = 0; i < int(figure.lines.size()); ++i) {
        const TraceFigure::Line &line = figure.lines[std::size_t(i)];
        const QRectF lane = figure.laneRect(area, line.lane);
        const double y = figure.yOf(area, i, 0);
        QColor ink = look.trace(line.ink);
        if (y >= lane.top() && y <= lane.bottom()) {
            ink.setAlpha(120);
            painter.setPen(QPen(ink, 0.9, Qt::DotLine));
            painter.drawLine(QPointF(lane.left(), y), QPointF(lane.right(), y));
        }
    }
}

void paintHandles(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    for (int i = 0; figure.handles && i < int(figure.lines.size()); ++i) {
        const QRectF grip = figure.handleBox(area, i);
        painter.setPen(QPen(look.tile, 1));
        painter.setBrush(look.trace(figure.lines[std::size_t(i)].ink));
        painter.drawPolygon(
            QPolygonF({grip.topLeft(), QPointF(grip.right() - 4, grip.top()), QPointF(grip.right(), grip.center().y()),
                       QPointF(grip.right() - 4, grip.bottom()), grip.bottomLeft()}));
        painter.setPen(look.tile);
        painter.setFont(look.font(9, true));
        painter.drawText(grip.adjusted(0, 0, -3, 0), Qt::AlignCenter, "0");
        painter.setBrush(Qt::NoBrush);
    }
}

void paintRegions(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    for (const TraceFigure::Region &region : figure.regions) {
        const double left = std::max(plot.left(), figure.xOf(area, region.from)),
                     right = std::min(plot.right(), figure.xOf(area, region.to));
        if (right < left) continue;
        QColor wash = look.ink;
        wash.setAlpha(13);
        painter.fillRect(QRectF(left, plot.top(), right - left, plot.height()), wash);
        painter.setPen(QPen(look.quiet, 1, Qt::DashDotLine));
        for (const double x : {figure.xOf(area, region.from), figure.xOf(area, region.to)}) {
            if (x >= plot.left() && x <= plot.right())
                painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()));
        }
    }
}

void paintRegionFlags(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    for (const TraceFigure::Region &region : figure.regions) {
        if (region.to < figure.from || region.from > figure.to) continue;
        const QRectF flag = figure.regionFlag(area, region, look);
        painter.fillRect(flag, look.hairline);
        painter.setPen(look.ink);
        painter.setFont(look.font(10, true));
        painter.drawText(flag, Qt::AlignCenter, text(region.id));
    }
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

/// Symbols as digits, each in the middle of its unit interval; where these are narrow as bars, the higher the greater.
void paintSymbols(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    if (figure.symbols.empty()) return;
    constexpr double height = 11, leastForDigits = 8;
    const QRectF plot = figure.plotRect(area), lane = figure.laneRect(area, figure.symbolLane);
    const double bottom = lane.bottom() - 0.5; // between the boundaries' strokes
    const auto most = std::max_element(figure.symbols.begin(), figure.symbols.end(),
                                       [](const auto &a, const auto &b) { return a.word < b.word; });
    painter.save();
    painter.setClipRect(plot, Qt::IntersectClip);
    painter.setFont(look.font(10));
    for (const TraceFigure::Symbol &symbol : figure.symbols) {
        const double left = figure.xOf(area, symbol.from), right = figure.xOf(area, symbol.to);
        const QRectF box(left, bottom - height, right - left, height);
        const QColor ink = symbol.wrong ? look.fail : look.quiet;
        if (symbol.wrong) painter.fillRect(QRectF(left, box.bottom() - 1.5, box.width(), 1.5), look.fail);
        painter.setPen(ink);
        if (box.width() >= leastForDigits) {
            painter.drawText(box, Qt::AlignCenter, QString(QChar(symbol.word)));
        } else if (symbol.word > '0' && symbol.word != '?') {
            const double part = double(symbol.word - '0') / double(std::max(1, most->word - '0'));
            painter.fillRect(QRectF(left, box.bottom() - 2 - part * (height - 4), box.width(), part * (height - 4)),
                             ink);
        }
    }
    painter.restore();
}

void paintNotes(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    painter.setFont(look.font(11));
    for (const TraceFigure::Pin &note : figure.notes) {
        const double x = figure.xOf(area, note.time);
        if (x < plot.left() || x > plot.right()) continue;
        const QRectF lane = figure.laneRect(area, figure.lines[std::size_t(note.line)].lane);
        const double y = std::clamp(figure.yOf(area, note.line, note.value), lane.top() + 4, lane.bottom() - 4);
        const QRectF box = figure.noteBox(area, note, look);
        painter.setPen(QPen(look.ink, 1));
        painter.drawLine(QPointF(x, y),
                         QPointF(std::clamp(x, box.left(), box.right()), std::clamp(y, box.top(), box.bottom())));
        painter.setBrush(look.tile);
        painter.drawRoundedRect(box, 3, 3);
        painter.drawText(box.adjusted(6, 3, -6, -3), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, note.text);
        painter.setBrush(look.ink);
        painter.drawEllipse(QPointF(x, y), 2.2, 2.2);
    }
}

void paintPoints(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    painter.setPen(QPen(look.accent, 1.2));
    painter.setBrush(look.tile);
    for (const TraceFigure::Point &point : figure.points) {
        const double x = figure.xOf(area, point.time);
        if (x >= plot.left() && x <= plot.right())
            painter.drawEllipse(QPointF(x, figure.yOf(area, point.line, point.value)), 3.4, 3.4);
    }
}

void paintLevels(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    painter.setFont(look.font(9));
    const QFontMetricsF metrics(painter.font());
    for (const TraceFigure::Level &level : figure.levels) {
        const QRectF lane = figure.laneRect(area, figure.lines[std::size_t(level.line)].lane);
        const double y = std::round(figure.yOf(area, level.line, level.value)) + 0.5; // one row of pixels
        if (y < lane.top() || y > lane.bottom()) continue;
        QPen pen(look.accent, 1);
        pen.setDashPattern({6, 4});
        painter.setPen(pen);
        painter.drawLine(QPointF(lane.left(), y), QPointF(lane.right(), y));
        const double wide = metrics.horizontalAdvance(level.words) + 8;
        const QRectF tag(lane.right() - wide - 4, y - 7, wide, 14);
        painter.setPen(Qt::NoPen);
        painter.setBrush(look.tile);
        painter.drawRoundedRect(tag, 3, 3);
        painter.setPen(look.words(look.accent));
        painter.drawText(tag, Qt::AlignCenter, level.words);
    }
}

/// The instants, an arrow between them, and the value.
void paintDimension(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    if (!figure.dimension || figure.dimension->line < 0) return;
    const TraceFigure::Dimension &dimension = *figure.dimension;
    const QRectF lane = dimension.betweenChannels
                            ? figure.plotRect(area)
                            : figure.laneRect(area, figure.lines[std::size_t(dimension.line)].lane);
    painter.save();
    painter.setClipRect(figure.plotRect(area));
    painter.setPen(QPen(look.accent, 1.4));
    const double y = lane.bottom() - 14;
    std::vector<double> xs;
    for (const double instant : dimension.instants) {
        xs.push_back(figure.xOf(area, instant));
        painter.drawLine(QPointF(xs.back(), lane.top()), QPointF(xs.back(), lane.bottom()));
    }
    const double from = *std::min_element(xs.begin(), xs.end()), to = *std::max_element(xs.begin(), xs.end());
    if (to > from) painter.drawLine(QPointF(from, y), QPointF(to, y));
    painter.setBrush(look.accent);
    if (to - from > 14) {
        painter.drawPolygon(QPolygonF({QPointF(from, y), QPointF(from + 6, y - 3), QPointF(from + 6, y + 3)}));
        painter.drawPolygon(QPolygonF({QPointF(to, y), QPointF(to - 6, y - 3), QPointF(to - 6, y + 3)}));
    }
    painter.setFont(look.font(11, true));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(dimension.words) + 12;
    QRectF tag((from + to) / 2 - wide / 2, y - 9, wide, 18);
    if (to - from < wide + 20) tag.moveLeft(to + 5); // beside it where it is narrower than its value
    if (tag.right() > lane.right()) tag.moveRight(from - 5);
    painter.setPen(QPen(look.accent, 1));
    painter.setBrush(look.tile);
    painter.drawRoundedRect(tag, 4, 4);
    painter.setPen(look.ink);
    painter.drawText(tag, Qt::AlignCenter, dimension.words);
    painter.restore();
}

void paintMarkers(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    const QRectF plot = figure.plotRect(area);
    painter.setFont(look.font(10, true));
    for (std::size_t i = 0; i < figure.markers.size(); ++i) {
        const TraceFigure::Marker &marker = figure.markers[i];
        QPen pen(look.ink, 1);
        pen.setStyle(i == 0 ? Qt::SolidLine : Qt::DashLine);
        painter.setPen(pen);
        QRectF flag;
        const QRectF lane = marker.line < 0 ? plot : figure.laneRect(area, figure.lines[std::size_t(marker.line)].lane);
        if (marker.time) {
            const double x = figure.xOf(area, *marker.time);
            if (x < plot.left() || x > plot.right()) continue;
            painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()));
            flag = QRectF(x - 8, plot.top() - 2, 16, 14);
            if (marker.line >= 0 && marker.value) {
                painter.setPen(QPen(look.ink, 1.4));
                painter.setBrush(look.tile);
                painter.drawEllipse(
                    QPointF(x, std::clamp(figure.yOf(area, marker.line, *marker.value), lane.top(), lane.bottom())), 4,
                    4);
            }
        } else {
            const double y = figure.yOf(area, marker.line, *marker.value);
            if (y < lane.top() || y > lane.bottom()) continue;
            painter.drawLine(QPointF(lane.left(), y), QPointF(lane.right(), y));
            flag = QRectF(plot.right() - 3, y - 7, 16, 14);
        }
        painter.fillRect(flag, look.ink);
        painter.setPen(look.tile);
        painter.drawText(flag, Qt::AlignCenter, marker.letter);
    }
}

void paintNames(QPainter &painter, const QRectF &area, const TraceFigure &figure, const Look &look)
{
    painter.setFont(look.font(11, true));
    const QFontMetricsF metrics(painter.font());
    std::vector<double> used(std::size_t(figure.lanes), 0);
    for (const auto &line : figure.lines) {
        const QRectF lane = figure.laneRect(area, line.lane);
        QString words = line.name;
        const auto &axis = figure.lines[std::size_t(figure.axisLine(line.lane))];
        if (line.low != axis.low || line.high != axis.high) // the axis is another one's
            words += QString(" %1 … %2")
                         .arg(text(quantityText(line.low, line.unit.toStdString(), {}, 3)),
                              text(quantityText(line.high, line.unit.toStdString(), {}, 3)));
        const double width = metrics.horizontalAdvance(words) + 8;
        const QRectF box(lane.right() - width - used[std::size_t(line.lane)] - 4, lane.top() + 3, width, 15);
        used[std::size_t(line.lane)] += width + 4;
        QColor back = look.tile;
        back.setAlpha(215);
        painter.fillRect(box, back);
        painter.setPen(look.words(look.trace(line.ink)));
        painter.drawText(box, Qt::AlignCenter, words);
        if (line.drawing && line.drawing->sketch && line.drawing->columns.size() > 0) {
            painter.setFont(look.font(10));
            painter.setPen(look.ink);
            painter.fillRect(QRectF(lane.left() + 6, lane.bottom() - 19, 236, 15), back);
            painter.drawText(QRectF(lane.left() + 10, lane.bottom() - 19, 232, 15), Qt::AlignLeft | Qt::AlignVCenter,
                             "a first look: most samples are still being read");
            painter.setFont(look.font(11, true));
        }
        if (line.error.isEmpty()) continue;
        painter.setPen(look.fail);
        painter.drawText(lane.adjusted(8, 8, -8, -8), Qt::AlignCenter | Qt::TextWordWrap, line.error);
    }
}

/// Where the drawing belongs by its own span and scale. One point of the picture to a pixel where they are the
/// figure's: scaling it costs more than making it.
template <typename Drawn>
void paintPicture(QPainter &painter, const QRectF &area, const TraceFigure &figure, int index, const Drawn &drawn,
                  const QImage &picture)
{
    const QRectF at(QPointF(figure.xOf(area, drawn.start), figure.yOf(area, index, drawn.high)),
                    QPointF(figure.xOf(area, drawn.stop), figure.yOf(area, index, drawn.low)));
    const QSizeF size = picture.size();
    const bool fits = std::abs(at.width() - size.width()) < 1 && std::abs(at.height() - size.height()) < 1;
    painter.drawImage(fits ? QRectF(at.topLeft().toPoint(), size) : at, picture);
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
        const auto &line = figure.lines[std::size_t(figure.axisLine(lane))];
        paintAxes(painter, figure.laneRect(area, lane), timeAxis(figure.from, figure.to),
                  {line.low, line.high, line.unit.toStdString()}, look, lane + 1 == figure.lanes);
    }
    paintRegions(painter, area, figure, look);
    paintMarks(painter, area, figure, look);
    paintBaselines(painter, area, figure, look);
    for (std::size_t i = 0; i < figure.lines.size(); ++i) {
        const auto &line = figure.lines[i];
        if (!line.drawing && !line.others) continue;
        const QRectF rect = figure.laneRect(area, line.lane);
        painter.save();
        painter.setClipRect(rect, Qt::IntersectClip);
        if (line.others) paintPicture(painter, area, figure, int(i), *line.others, line.others->image);
        painter.setPen(tracePen(look.trace(line.ink), 1.3));
        if (line.drawing && line.drawing->columns.size() > 0)
            paintPicture(painter, area, figure, int(i), *line.drawing, line.drawing->shade);
        else if (line.drawing)
            paintSamples(painter, rect, *line.drawing, {figure.from, figure.to, line.low, line.high}, line.dash);
        painter.restore();
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
    paintHandles(painter, area, figure, look);
    paintRegionFlags(painter, area, figure, look);
    paintNames(painter, area, figure, look);
    paintSymbols(painter, area, figure, look);
    paintNotes(painter, area, figure, look);
    paintPoints(painter, area, figure, look);
    paintLevels(painter, area, figure, look); // whose words are to be read
    paintDimension(painter, area, figure, look);
    paintMarkers(painter, area, figure, look);
    painter.restore();
}

} // namespace fulvex
