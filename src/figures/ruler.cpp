#include "ruler.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

std::pair<double, double> Ruler::span() const
{
    double low = INFINITY, high = -INFINITY;
    const auto take = [&](double at) { low = std::min(low, at), high = std::max(high, at); };
    for (const auto &one : {least, most})
        if (one && std::isfinite(*one)) take(*one);
    if (value && std::isfinite(*value)) {
        const double reach = 2 * uncertainty.value_or(0);
        take(*value - reach);
        take(*value + reach);
    }
    if (!(low <= high)) return {0, 1};
    if (!(high > low)) { // a single place: as much about it as it is itself
        const double about = low != 0 ? std::abs(low) : 1;
        return {low - about, high + about};
    }
    const double room = 0.35 * (high - low);
    return {low - room, high + room};
}

QColor undecidedInk(const Look &look)
{
    return look.trace(5); // ochre: neither of pass nor of fail
}

Ruler rulerOf(const TestOutcome &outcome)
{
    Ruler made{outcome.value, outcome.uncertainty, outcome.least, outcome.most, Ruler::As::passes};
    if (outcome.ofMask && outcome.margin) { // how far it is from touching, not how often it did
        made = {outcome.margin, {}, 0.0, {}, Ruler::As::passes};
    }
    made.as = outcome.verdict == TestVerdict::fail          ? Ruler::As::fails
              : outcome.verdict == TestVerdict::undecidable ? Ruler::As::undecided
                                                            : Ruler::As::passes;
    return made;
}

void paintRuler(QPainter &painter, const QRectF &area, const Ruler &ruler, const Look &look)
{
    const auto [low, high] = ruler.span();
    const auto xOf = [&, low = low, high = high](double at) {
        return area.left() + std::clamp((at - low) / (high - low), 0.0, 1.0) * area.width();
    };
    const double middle = area.center().y(), half = std::min(5.0, area.height() / 2 - 2);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(look.hairline, 1));
    painter.drawLine(QPointF(area.left(), middle), QPointF(area.right(), middle));
    QColor passes = look.pass;
    passes.setAlphaF(0.16f);
    const double from = ruler.least ? xOf(*ruler.least) : area.left(),
                 to = ruler.most ? xOf(*ruler.most) : area.right();
    if (to > from) painter.fillRect(QRectF(QPointF(from, middle - half), QPointF(to, middle + half)), passes);
    painter.setPen(QPen(look.ink, 1.4));
    for (const auto &limit : {ruler.least, ruler.most})
        if (limit) painter.drawLine(QPointF(xOf(*limit), middle - half - 2), QPointF(xOf(*limit), middle + half + 2));
    if (ruler.value && std::isfinite(*ruler.value)) {
        const QColor ink = ruler.as == Ruler::As::passes  ? look.pass
                           : ruler.as == Ruler::As::fails ? look.fail
                                                          : undecidedInk(look);
        constexpr double dot = 3.4;
        if (ruler.uncertainty && *ruler.uncertainty > 0) {
            painter.setPen(QPen(ink, 2.4, Qt::SolidLine, Qt::FlatCap));
            painter.drawLine(QPointF(xOf(*ruler.value - 2 * *ruler.uncertainty), middle),
                             QPointF(xOf(*ruler.value + 2 * *ruler.uncertainty), middle));
        }
        painter.setPen(Qt::NoPen);
        painter.setBrush(ink);
        const QPointF at(xOf(*ruler.value), middle);
        if (ruler.as == Ruler::As::fails) { // told by shape as well
            painter.drawPolygon(QPolygonF{{at + QPointF(0, -dot - 1), at + QPointF(dot + 1, 0),
                                           at + QPointF(0, dot + 1), at + QPointF(-dot - 1, 0)}});
        } else if (ruler.as == Ruler::As::undecided) {
            painter.drawRect(QRectF(at.x() - dot, at.y() - dot, 2 * dot, 2 * dot));
        } else {
            painter.drawEllipse(at, dot, dot);
        }
    }
    painter.restore();
}

} // namespace fulvex
