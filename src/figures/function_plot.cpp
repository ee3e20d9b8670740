#include "function_plot.h"

#include "mailbox.h"
#include "number_text.h"

#include <QCoreApplication>
#include <QLocale>
#include <QThread>
#include <QVector>
#include <algorithm>
#include <cmath>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <qcustomplot.h>

namespace fulvex {

namespace {

/// Ticks as everywhere else; so are their labels, which are painted beside the library.
class OurTicks final : public QCPAxisTicker {
public:
    explicit OurTicks(std::vector<Tick> ticks) : m_ticks(std::move(ticks)) {}
    void generate(const QCPRange &range, const QLocale &, QChar, int, QVector<double> &ticks, QVector<double> *,
                  QVector<QString> *labels) override
    {
        ticks.clear();
        for (const Tick &tick : m_ticks) ticks << std::clamp(tick.value, range.lower, range.upper);
        if (labels) labels->fill({}, ticks.size());
    }

private:
    std::vector<Tick> m_ticks;
};

void setAxis(QCPAxis *axis, const AxisScale &scale, std::vector<Tick> ticks, const Look &look)
{
    axis->setScaleType(scale.logarithmic ? QCPAxis::stLogarithmic : QCPAxis::stLinear);
    axis->setRange(scale.low, scale.high);
    axis->setTicker(QSharedPointer<OurTicks>::create(std::move(ticks)));
    axis->setTickPen(Qt::NoPen);
    axis->setSubTickPen(Qt::NoPen);
    axis->setTickLength(0, 0);
    axis->setTickLabels(false);
    axis->grid()->setPen(QPen(look.hairline, 0.6));
    axis->grid()->setZeroLinePen(Qt::NoPen);
}

/// Bars between shares of the x axis; on a logarithmic one they are as wide as they look.
void addBars(QCustomPlot &stage, const FunctionPlot &plot, const Look &look)
{
    const FunctionPlot::Bars &bars = *plot.bars;
    const auto count = double(bars.heights.size());
    QVector<double> usual, usualHeights, asked, askedHeights;
    for (std::size_t i = 0; i < bars.heights.size(); ++i) {
        const double middle = plot.x.valueAt((double(i) + 0.5) / count);
        const bool inQuestion = plot.asked && middle > plot.asked->first && middle < plot.asked->second;
        (inQuestion ? asked : usual) << middle;
        (inQuestion ? askedHeights : usualHeights) << bars.heights[i];
    }
    for (const bool inQuestion : {false, true}) {
        auto *drawn = new QCPBars(stage.xAxis, stage.yAxis);
        drawn->setWidthType(QCPBars::wtAxisRectRatio);
        drawn->setWidth(1 / count);
        drawn->setPen(QPen(look.tile, 1));
        drawn->setBrush(inQuestion ? look.accent : look.trace(bars.ink));
        drawn->setData(inQuestion ? asked : usual, inQuestion ? askedHeights : usualHeights, true);
    }
}

void addCurve(QCustomPlot &stage, const FunctionPlot::Curve &curve, const Look &look)
{
    QCPGraph *graph = stage.addGraph();
    graph->setData(QVector<double>(curve.x.begin(), curve.x.end()), QVector<double>(curve.y.begin(), curve.y.end()),
                   true);
    constexpr std::size_t many = 500; // only lines of one pixel are painted quickly
    QColor ink = curve.ink < 0 ? look.ink : look.trace(curve.ink);
    if (curve.faint) ink.setAlpha(90);
    QPen pen(ink, curve.x.size() > many ? 1.0 : 1.4);
    pen.setCapStyle(Qt::SquareCap);
    if (curve.as == FunctionPlot::Curve::As::dashes) pen.setStyle(Qt::DashLine);
    graph->setPen(pen);
    if (curve.as != FunctionPlot::Curve::As::points) return;
    graph->setLineStyle(QCPGraph::lsNone);
    graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, ink, 3.4));
}

/// Builds all but washes and words.
void setStage(QCustomPlot &stage, const FunctionPlot &plot, QSize size, const Look &look)
{
    stage.setBackground(QBrush(Qt::NoBrush));
    // Words are no pixels; lines are single strokes: a long one filled as a whole costs ten times as much.
    stage.setPlottingHints(QCP::phFastPolylines);
    QCPAxisRect *rect = stage.axisRect();
    rect->setAutoMargins(QCP::msNone);
    rect->setMinimumSize(1, 1);
    rect->setMargins(plot.margins);
    rect->setupFullAxesBox();
    const QRectF room = plot.plotRect(QRectF(QPointF(0, 0), size));
    setAxis(stage.xAxis, plot.x, ticksAlong(plot.x, room), look);
    setAxis(stage.yAxis, plot.y, ticksUp(plot.y, room), look);
    if (!plot.yLabels) stage.yAxis->grid()->setVisible(false);
    for (QCPAxis *axis : {stage.xAxis, stage.yAxis, stage.xAxis2, stage.yAxis2}) {
        axis->setBasePen(QPen(look.hairline, 0.8));
        axis->setVisible(plot.yLabels || axis == stage.xAxis);
    }
    for (QCPAxis *axis : {stage.xAxis2, stage.yAxis2}) axis->setTicks(false);
    if (plot.bars) addBars(stage, plot, look);
    for (const FunctionPlot::Curve &curve : plot.curves) addCurve(stage, curve, look);
}

QPicture recorded(const FunctionPlot &plot, QSize size, const Look &look)
{
    QCustomPlot stage;
    setStage(stage, plot, size, look);
    QPicture picture;
    QCPPainter painter(&picture);
    stage.toPainter(&painter, size.width(), size.height());
    painter.end();
    return picture;
}

/// As fine as the painter paints.
QPixmap pictured(const QPainter &painter, const FunctionPlot &plot, QSize size, const Look &look)
{
    const double fine = painter.device()->devicePixelRatioF() * std::max(1.0, painter.worldTransform().m11());
    QCustomPlot stage;
    setStage(stage, plot, size, look);
    QPixmap pixmap = stage.toPixmap(size.width(), size.height(), fine);
    pixmap.setDevicePixelRatio(fine);
    return pixmap;
}

void wash(QPainter &painter, const QRectF &plot, const AxisScale &x, std::pair<double, double> span, QColor colour)
{
    const double left = std::clamp(x.shareOf(span.first), 0.0, 1.0),
                 right = std::clamp(x.shareOf(span.second), 0.0, 1.0);
    if (x.shareOf(span.second) < 0 || x.shareOf(span.first) > 1) return;
    colour.setAlpha(40);
    painter.fillRect(QRectF(plot.left() + left * plot.width(), plot.top(), std::max(2.0, (right - left) * plot.width()),
                            plot.height()),
                     colour);
}

void paintRules(QPainter &painter, const QRectF &rect, const FunctionPlot &plot, const Look &look)
{
    painter.setFont(look.font(9));
    const QFontMetricsF metrics(painter.font());
    double taken[2] = {rect.left(), rect.left()}; // labels so far reach there, in two lines
    for (const FunctionPlot::Rule &rule : plot.rules) {
        const double share = plot.x.shareOf(rule.x);
        if (!(share >= 0 && share <= 1)) continue;
        const double x = rect.left() + share * rect.width(), wide = metrics.horizontalAdvance(rule.label) + 4;
        QPen pen(look.ink, 1);
        if (rule.dashes) pen.setDashPattern({4, 3});
        painter.setPen(pen);
        painter.drawLine(QPointF(x, rect.top()), QPointF(x, rect.bottom()));
        const int line = x - wide / 2 >= taken[0] ? 0 : 1;
        if (x - wide / 2 < taken[line]) continue;
        const QRectF tag(x - wide / 2, rect.top() + 12 * line, wide, 12);
        QColor back = look.tile;
        back.setAlpha(220);
        painter.fillRect(tag, back);
        painter.drawText(tag, Qt::AlignCenter, rule.label);
        taken[line] = tag.right();
    }
}

/// Lays washes below, and labels and words above, what `stage` paints.
template <typename Stage>
void paintAround(QPainter &painter, const QRectF &area, const FunctionPlot &plot, const Look &look, Stage &&stage)
{
    painter.save();
    const QRectF rect = plot.plotRect(area);
    for (const auto &span : {plot.shown, plot.asked}) {
        if (span) wash(painter, rect, plot.x, *span, look.accent);
    }
    if (plot.picture) painter.drawImage(rect, *plot.picture);
    stage();
    paintRules(painter, rect, plot, look);
    if (plot.xLabels) paintLabelsBelow(painter, rect, plot.x, look, area.left(), area.right());
    if (plot.yLabels) paintLabelsLeft(painter, rect, plot.y, look);
    painter.setFont(look.font(11));
    double y = rect.top() + (plot.rules.empty() ? 0 : 25); // below their labels
    QStringList words = plot.words;
    const auto room = qsizetype(std::max(1.0, 0.62 * rect.height() / 16)); // what is drawn matters more
    if (words.size() > room) words = words.mid(0, std::max<qsizetype>(1, room - 1)) << "…";
    for (const QString &line : words) {
        const double wide = QFontMetricsF(painter.font()).horizontalAdvance(line) + 8;
        QColor back = look.tile;
        back.setAlpha(200);
        painter.fillRect(QRectF(rect.right() - wide, y, wide, 16), back);
        painter.setPen(look.ink);
        painter.drawText(QRectF(rect.right() - wide, y, wide - 2, 16), Qt::AlignRight | Qt::AlignVCenter, line);
        y += 16;
    }
    painter.restore();
}

/// What is recorded on one thread and waited for on another, either of which may be over before the other.
struct Recording {
    std::mutex mutex;
    std::condition_variable ended;
    std::optional<QPicture> picture;
};

} // namespace

void paintPlot(QPainter &painter, const QRectF &area, const FunctionPlot &plot, const Look &look)
{
    paintAround(painter, area, plot, look,
                [&] { painter.drawPixmap(area.topLeft(), pictured(painter, plot, area.size().toSize(), look)); });
}

QPicture recordedPlot(const FunctionPlot &plot, QSizeF size, const Look &look, Progress &progress)
{
    const auto record = [plot, size, look] {
        const PlainNumbers forFiles;
        QPicture picture;
        QPainter painter(&picture);
        paintAround(painter, QRectF(QPointF(0, 0), size), plot, look,
                    [&] { painter.drawPicture(0, 0, recorded(plot, size.toSize(), look)); });
        painter.end();
        return picture;
    };
    if (QThread::currentThread() == QCoreApplication::instance()->thread()) return record();
    const auto recording = std::make_shared<Recording>();
    callOnInterface([recording, record] {
        QPicture picture = record();
        const std::lock_guard lock(recording->mutex);
        recording->picture = std::move(picture);
        recording->ended.notify_all();
    });
    std::unique_lock lock(recording->mutex);
    while (
        !recording->ended.wait_for(lock, std::chrono::milliseconds(20), [&] { return recording->picture.has_value(); }))
        progress.advance(0); // the interface may be waiting for this thread to give up
    return *recording->picture;
}

void paintRecorded(QPainter &painter, const QRectF &area, const QPicture &picture, QSizeF size)
{
    painter.save();
    painter.translate(area.topLeft());
    // Pictures are played larger on devices with more dots an inch.
    painter.scale(area.width() / size.width() * picture.logicalDpiX() / painter.device()->logicalDpiX(),
                  area.height() / size.height() * picture.logicalDpiY() / painter.device()->logicalDpiY());
    QPicture own; // playing one moves a place in it: others may play it at the same time
    own.setData(picture.data(), picture.size());
    painter.drawPicture(0, 0, own);
    painter.restore();
}

} // namespace fulvex
