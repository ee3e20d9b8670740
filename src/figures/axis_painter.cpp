#include "axis_painter.h"

#include "number_text.h"
#include "shaped_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

QString ratioText(double ratio)
{
    constexpr double plain = 0.01;
    if (ratio >= plain || !(ratio > 0)) return QString::number(ratio, 'g', 2);
    int power = int(std::floor(std::log10(ratio) + 1e-9));
    double digits = std::round(ratio / std::pow(10, power) * 10) / 10;
    if (digits >= 10) digits = 1, ++power;
    return QString("%1e%2").arg(digits, 0, 'g', 2).arg(power);
}

QString text(const std::string &utf8)
{
    return QString::fromUtf8(utf8.data(), qsizetype(utf8.size()));
}

double AxisScale::shareOf(double value) const
{
    return logarithmic ? std::log(value / low) / std::log(high / low) : (value - low) / (high - low);
}

double AxisScale::valueAt(double share) const
{
    return logarithmic ? low * std::pow(high / low, share) : low + share * (high - low);
}

AxisScale timeAxis(double from, double to)
{
    return {from, to, "s", false, true};
}

static std::vector<Tick> logarithmicTicks(const AxisScale &scale, int most)
{
    std::vector<Tick> ticks;
    if (!(scale.low > 0) || !(scale.high > scale.low) || !std::isfinite(scale.high) || most < 1) return ticks;
    const double decades = std::log10(scale.high / scale.low);
    if (decades < 1) { // as on a linear one
        AxisScale straight = scale;
        straight.logarithmic = false;
        return ticksOf(straight, most);
    }
    const int every = std::max(1, int(std::ceil(decades / most))); // decades from one tick to the next
    const bool between = decades * 3 <= most;
    const int first = int(std::floor(std::log10(scale.low) + 1e-9)),
              last = int(std::floor(std::log10(scale.high) + 1e-9));
    for (int decade = first; decade <= last; ++decade) {
        for (const double factor : {1.0, 2.0, 5.0}) {
            const double value = factor * std::pow(10.0, decade);
            if (value < scale.low * (1 - 1e-9) || value > scale.high * (1 + 1e-9)) continue;
            if (factor > 1 ? !between : (decade % every + every) % every != 0) continue;
            const bool ratio = scale.unit.empty() && value < 1;
            ticks.push_back({value, ratio ? ratioText(value) : text(quantityText(value, scale.unit, {}, 1))});
        }
    }
    return ticks;
}

std::vector<Tick> ticksOf(const AxisScale &scale, int most)
{
    if (scale.logarithmic) return logarithmicTicks(scale, most);
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
    const auto preferred = scale.alongRecord ? numberManner().timeExponent : std::nullopt;
    const double magnitude =
        preferred ? std::pow(10.0, *preferred) : std::max(std::abs(scale.low), std::abs(scale.high));
    const SiScale si = siScale(magnitude, scale.unit);
    const int decimals = int(std::clamp(std::ceil(-std::log10(step * si.factor) - 1e-9), 0.0, preferred ? 15.0 : 9.0));
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

std::vector<Tick> ticksAlong(const AxisScale &x, const QRectF &plot)
{
    constexpr double wide = 74, widest = 120; // of a label, pixels
    if (x.alongRecord && numberManner().timeExponent) return ticksOf(x, std::max(2, int(plot.width() / widest)));
    return ticksOf(x, std::max(2, int(plot.width() / wide)));
}

std::vector<Tick> ticksUp(const AxisScale &y, const QRectF &plot)
{
    return ticksOf(y, std::max(4, int(plot.height() / 26)));
}

void paintLabelsBelow(QPainter &painter, const QRectF &plot, const AxisScale &x, const Look &look, double left,
                      double right)
{
    painter.save();
    painter.setFont(look.font(10));
    painter.setPen(look.quiet);
    for (const Tick &tick : ticksAlong(x, plot)) {
        const double at = plot.left() + x.shareOf(tick.value) * plot.width();
        const QStaticText &label = shapedText(tick.label, painter.font());
        const QSizeF size = label.size();
        const double start = std::clamp(at - size.width() / 2, left + 2, std::max(left, right - 2 - size.width()));
        painter.drawStaticText(QPointF(start, plot.bottom() + 10 - size.height() / 2), label);
    }
    painter.restore();
}

void paintLabelsLeft(QPainter &painter, const QRectF &plot, const AxisScale &y, const Look &look)
{
    painter.save();
    painter.setFont(look.font(10));
    painter.setPen(look.quiet);
    double below = plot.bottom() + 6; // where labels stand too close, as to those below the plot, one is left out
    for (const Tick &tick : ticksUp(y, plot)) {
        const double at = plot.bottom() - y.shareOf(tick.value) * plot.height();
        if (below - at < 13) continue;
        below = at;
        const QStaticText &label = shapedText(tick.label, painter.font());
        const QSizeF size = label.size();
        constexpr double beyond = 3; // half of what lies between lanes: no label reaches into the next
        const double top = std::clamp(at - size.height() / 2, plot.top() - beyond,
                                      std::max(plot.top() - beyond, plot.bottom() + beyond - size.height()));
        painter.drawStaticText(QPointF(plot.left() - 6 - size.width(), top), label);
    }
    painter.restore();
}

void paintAxes(QPainter &painter, const QRectF &plot, const AxisScale &x, const AxisScale &y, const Look &look,
               bool xLabels)
{
    painter.save();
    painter.setPen(QPen(look.hairline, 0.6));
    for (const Tick &tick : ticksUp(y, plot)) {
        const double at = plot.bottom() - y.shareOf(tick.value) * plot.height();
        painter.drawLine(QPointF(plot.left(), at), QPointF(plot.right(), at));
    }
    for (const Tick &tick : ticksAlong(x, plot)) {
        const double at = plot.left() + x.shareOf(tick.value) * plot.width();
        painter.drawLine(QPointF(at, plot.top()), QPointF(at, plot.bottom()));
    }
    painter.setPen(QPen(look.hairline, 0.8));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(plot);
    painter.restore();
    if (xLabels) paintLabelsBelow(painter, plot, x, look, plot.left() - 20, plot.right() + 8);
    paintLabelsLeft(painter, plot, y, look);
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
