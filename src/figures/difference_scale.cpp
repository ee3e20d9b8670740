#include "difference_scale.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

double DifferenceScale::xOf(const QRectF &area, double times)
{
    constexpr double margin = 12; // pixels, where arrows have room
    const double share = (std::clamp(times, -most, most) + most) / (2 * most);
    return area.left() + margin + share * (area.width() - 2 * margin);
}

void DifferenceScale::paint(QPainter &painter, const QRectF &area, const Comparison::Pair &pair, const Look &look)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    QColor chance = look.pass;
    chance.setAlphaF(0.14f);
    painter.fillRect(QRectF(QPointF(xOf(area, -2), area.top()), QPointF(xOf(area, 2), area.bottom())), chance);
    painter.setPen(QPen(look.hairline, 1));
    for (const double at : {-most, -most / 2, 0.0, most / 2, most})
        painter.drawLine(QPointF(xOf(area, at), area.top()), QPointF(xOf(area, at), area.bottom()));
    if (pair.times) {
        const bool hollow = pair.setDifferently && pair.differs();
        const QColor ink = hollow ? look.fail : pair.differs() ? look.ink : look.quiet;
        const double y = area.center().y(), x = xOf(area, *pair.times), reach = 3.6;
        painter.setPen(QPen(ink, 1.4));
        painter.drawLine(QPointF(xOf(area, 0), y), QPointF(x, y));
        painter.setBrush(hollow ? look.tile : ink);
        if (std::abs(*pair.times) <= most) {
            painter.drawEllipse(QPointF(x, y), reach, reach);
        } else {
            const double to = *pair.times > 0 ? 1 : -1;
            painter.drawPolygon(QPolygonF{{QPointF(x + to * 2 * reach, y), QPointF(x - to * reach / 2, y - 1.2 * reach),
                                           QPointF(x - to * reach / 2, y + 1.2 * reach)}});
        }
    }
    painter.restore();
}

void DifferenceScale::paintNumbers(QPainter &painter, const QRectF &area, const Look &look)
{
    painter.save();
    painter.setFont(look.font(10));
    painter.setPen(look.quiet);
    for (const double at : {-most, -most / 2, 0.0, most / 2, most})
        painter.drawText(QRectF(xOf(area, at) - 20, area.top(), 40, area.height()), Qt::AlignCenter,
                         QString::number(at).replace("-", "−"));
    painter.restore();
}

std::string comparedText(const ComparedNumber &number)
{
    if (!number.value) return "—";
    if (number.unit.empty() && *number.value == std::floor(*number.value)) return fixedText(*number.value, 0); // counts
    return quantityWithUncertainty(*number.value, number.unit, number.uncertainty);
}

std::string differenceText(const Comparison::Pair &pair)
{
    if (!pair.difference) return "—";
    const bool count = pair.first.unit.empty() && *pair.difference == std::floor(*pair.difference);
    const std::string size = count ? fixedText(std::abs(*pair.difference), 0)
                                   : quantityText(std::abs(*pair.difference), pair.first.unit, pair.uncertainty);
    if (size.find_first_of("123456789") == std::string::npos) return size; // nothing that its digits show
    return (*pair.difference > 0 ? "+" : "−") + size;
}

} // namespace fulvex
