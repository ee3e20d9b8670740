#include "axis_painter.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

QString text(const std::string &utf8)
{
    return QString::fromUtf8(utf8.data(), qsizetype(utf8.size()));
}

std::vector<Tick> ticksOf(const AxisScale &scale, int most)
{
    std::vector<Tick> ticks;
    const double span = scale.high - scale.low;
    if (!(span > 0) || !std::isfinite(span) || most < 1) return ticks;
    double step = std::pow(10.0, std::floor(std::log10(span / most)));
    for (const double factor : {1.0, 2.0, 5.0, 10.0}) {
        if (span / (step * factor) <= most) {
            step *= factor;
            break;
        }
    }
    const double reach = std::max(std::abs(scale.low), std::abs(scale.high));
    if (!(step > 0) || !(reach / step < 1e15)) return ticks; // doubles that lie this close cannot be told apart
    const SiScale si = siScale(std::max(std::abs(scale.low), std::abs(scale.high)), scale.unit);
    const int decimals = int(std::clamp(std::ceil(-std::log10(step * si.factor) - 1e-9), 0.0, 9.0));
    const auto first = std::int64_t(std::ceil(scale.low / step - 1e-9)),
               last = std::int64_t(std::floor(scale.high / step + 1e-9));
    for (std::int64_t i = first; i <= last && i - first < 100; ++i) {
        const double value = double(i) * step;
        std::string label = fixedText(value * si.factor, decimals);
        const bool withUnit = !si.unit.empty() && value != 0;
        if (withUnit) label += " " + si.unit;
        ticks.push_back({value, text(label)});
    }
    return ticks;
}

void paintAxes(QPainter &painter, const QRectF &plot, const AxisScale &x, const AxisScale &y, const Look &look,
               bool xLabels)
{
    painter.save();
    painter.setFont(look.font(10));
    const QFontMetricsF metrics(painter.font());
    for (const Tick &tick : ticksOf(y, std::max(2, int(plot.height() / 26)))) {
        const double at = plot.bottom() - y.shareOf(tick.value) * plot.height();
        painter.setPen(QPen(look.hairline, 0.6));
        painter.drawLine(QPointF(plot.left(), at), QPointF(plot.right(), at));
        painter.setPen(look.quiet);
        painter.drawText(QRectF(plot.left() - 86, at - 8, 80, 16), Qt::AlignRight | Qt::AlignVCenter, tick.label);
    }
    for (const Tick &tick : ticksOf(x, std::max(2, int(plot.width() / 90)))) {
        const double at = plot.left() + x.shareOf(tick.value) * plot.width();
        painter.setPen(QPen(look.hairline, 0.6));
        painter.drawLine(QPointF(at, plot.top()), QPointF(at, plot.bottom()));
        if (!xLabels) continue;
        painter.setPen(look.quiet);
        const double width = metrics.horizontalAdvance(tick.label) + 4;
        const double left = std::clamp(at - width / 2, plot.left() - 20, plot.right() - width + 8);
        painter.drawText(QRectF(left, plot.bottom() + 3, width, 14), Qt::AlignCenter, tick.label);
    }
    painter.setPen(QPen(look.hairline, 0.8));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot);
    painter.restore();
}

void paintEmpty(QPainter &painter, const QRectF &area, const QString &sentence, const Look &look)
{
    painter.save();
    painter.setFont(look.font(12));
    painter.setPen(look.quiet);
    const double side = std::max(0.0, (area.width() - 420) / 2);
    painter.drawText(area.adjusted(side + 8, 8, -side - 8, -8), Qt::AlignCenter | Qt::TextWordWrap, sentence);
    painter.restore();
}

} // namespace fulvex
