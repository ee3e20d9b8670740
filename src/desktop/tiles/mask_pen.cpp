#include "mask_pen.h"

#include "translated.h"

#include <cmath>

namespace fulvex {

QPointF MaskPen::Ground::on(const EyeWindow &window, MaskPoint point) const
{
    const MaskPoint at = onEye(*entry, ground, point);
    return window.pointOf(at.x, at.y);
}

MaskPoint MaskPen::Ground::from(const EyeWindow &window, QPointF at) const
{
    const QPointF there = window.valuesAt(at);
    return fromEye(*entry, ground, {there.x(), there.y()});
}

QPointF MaskPen::Ground::middle(const EyeWindow &window, std::size_t area) const
{
    QRectF box;
    for (const MaskPoint &point : entry->areas[area].points) {
        const QPointF at = on(window, point);
        box = box.isNull() ? QRectF(at, QSizeF(1e-9, 1e-9)) : box.united(QRectF(at, QSizeF(1e-9, 1e-9)));
    }
    return box.center();
}

std::string MaskPen::maskOn(const std::string &eye) const
{
    const Selection &selection = m_bench.selection();
    if (selection.kind != Selection::Kind::mask) return {};
    const MaskEntry *entry = fulvex::maskOn(m_bench.document(), eye);
    return entry && entry->id == selection.id && entry->own() && on(entry->id) ? entry->id : std::string();
}

std::optional<MaskPen::Ground> MaskPen::on(const std::string &mask) const
{
    const MaskEntry *entry = findEntry(m_bench.document().masks, mask);
    const auto ground = groundOf(m_bench, mask);
    if (!entry || !entry->own() || !ground) return {};
    return Ground{entry, *ground, mirrorOf(*entry, *ground)};
}

void MaskPen::paint(QPainter &painter, const std::string &mask, const EyeWindow &window, const Look &look) const
{
    const auto ground = on(mask);
    if (!ground) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(window.plot.adjusted(-near, -near, near, near), Qt::IntersectClip);
    for (std::size_t area = 0; area < ground->entry->areas.size(); ++area) {
        const MaskArea &its = ground->entry->areas[area];
        QPolygonF line;
        for (const MaskPoint &point : its.points) line << ground->on(window, point);
        if (its.kind == MaskArea::Kind::closed) line << line.first();
        painter.setPen(QPen(look.accent, 1.2, Qt::DashLine));
        painter.drawPolyline(line);
        const QPointF middle = ground->middle(window, area);
        painter.setPen(QPen(look.accent, 1.6));
        painter.drawLine(middle - QPointF(5, 0), middle + QPointF(5, 0));
        painter.drawLine(middle - QPointF(0, 5), middle + QPointF(0, 5));
        for (std::size_t i = 0; i < its.points.size(); ++i) {
            const bool chosen = m_chosen && m_of == mask && m_place == MaskPlace{area, i};
            painter.setBrush(chosen ? look.accent : look.tile);
            const double half = chosen ? 4.5 : 3.5;
            painter.drawRect(QRectF(line[qsizetype(i)] - QPointF(half, half), QSizeF(2 * half, 2 * half)));
        }
    }
    painter.restore();
}

bool MaskPen::press(const std::string &mask, const EyeWindow &window, QPointF at)
{
    const auto ground = on(mask);
    m_chosen = false;
    if (!ground) return false;
    const auto reaches = [&](QPointF grip) { return (grip - at).manhattanLength() <= near; };
    for (std::size_t area = 0; area < ground->entry->areas.size() && m_held == Held::nothing; ++area) {
        const auto &points = ground->entry->areas[area].points;
        for (std::size_t i = 0; i < points.size() && m_held == Held::nothing; ++i) {
            if (!reaches(ground->on(window, points[i]))) continue;
            m_held = Held::vertex;
            m_place = {area, i};
            m_chosen = true;
        }
        if (m_held == Held::nothing && reaches(ground->middle(window, area))) {
            m_held = Held::area;
            m_place = {area, 0};
        }
    }
    m_of = mask;
    m_before = ground->entry->areas;
    m_from = ground->from(window, at);
    ++m_drag;
    return holds();
}

bool MaskPen::drag(const std::string &mask, const EyeWindow &window, QPointF at)
{
    const auto ground = on(mask);
    if (!holds() || !ground || mask != m_of || m_before.size() != ground->entry->areas.size()) return holds();
    const MaskPoint to = ground->from(window, at);
    const auto edit = [&](std::vector<MaskArea> &areas) {
        areas = m_before;
        if (m_held == Held::vertex) {
            const MaskPoint start = m_before[m_place.area].points[m_place.point];
            moveVertex(areas, m_place, {start.x + to.x - m_from.x, start.y + to.y - m_from.y}, ground->mirror);
        } else {
            moveArea(areas, m_place.area, to.x - m_from.x, to.y - m_from.y, ground->mirror);
        }
    };
    editAreas(m_bench, mask, m_held == Held::vertex ? tr("move a corner of the mask") : tr("move an area of the mask"),
              edit, QString("mask %1").arg(m_drag));
    return true;
}

bool MaskPen::doubleClick(const std::string &mask, const EyeWindow &window, QPointF at)
{
    const auto ground = on(mask);
    if (!ground) return false;
    for (std::size_t area = 0; area < ground->entry->areas.size(); ++area) {
        const MaskArea &its = ground->entry->areas[area];
        const std::size_t sides = its.kind == MaskArea::Kind::closed ? its.points.size() : its.points.size() - 1;
        for (std::size_t i = 0; i < sides; ++i) {
            const QPointF a = ground->on(window, its.points[i]),
                          b = ground->on(window, its.points[(i + 1) % its.points.size()]);
            const QPointF along = b - a;
            const double length = QPointF::dotProduct(along, along);
            const double part = length > 0 ? QPointF::dotProduct(at - a, along) / length : 0;
            if (part <= 0 || part >= 1 || (a + part * along - at).manhattanLength() > near) continue;
            m_of = mask;
            m_chosen = editAreas(m_bench, mask, tr("add a corner to the mask"), [&](std::vector<MaskArea> &areas) {
                m_place = addVertex(areas, {area, i}, ground->from(window, a + part * along), ground->mirror);
            });
            return true;
        }
    }
    return false;
}

bool MaskPen::key(const std::string &mask, int key, bool fine)
{
    const auto ground = on(mask);
    if (!ground || !m_chosen || m_of != mask || m_place.area >= ground->entry->areas.size() ||
        m_place.point >= ground->entry->areas[m_place.area].points.size())
        return false;
    if (key == Qt::Key_Delete) {
        bool removed = false;
        editAreas(m_bench, mask, tr("remove a corner of the mask"),
                  [&](std::vector<MaskArea> &areas) { removed = removeVertex(areas, m_place, ground->mirror); });
        if (removed) m_chosen = false;
        return true;
    }
    const double step = fine ? 0.001 : 0.01; // of the unit interval and of the swing between the levels
    const double across = key == Qt::Key_Left    ? -step
                          : key == Qt::Key_Right ? step
                                                 : 0,
                 up = key == Qt::Key_Down ? -step
                      : key == Qt::Key_Up ? step
                                          : 0;
    if (across == 0 && up == 0) return false;
    const MaskScale scale = scaleOf(*ground->entry);
    const MaskPoint at = ground->entry->areas[m_place.area].points[m_place.point];
    const MaskPoint to{at.x + across * (scale.seconds ? ground->ground.unitInterval : 1),
                       at.y + up * (scale.normalised ? 1 : ground->ground.one - ground->ground.zero)};
    editAreas(m_bench, mask, tr("move a corner of the mask"),
              [&](std::vector<MaskArea> &areas) { moveVertex(areas, m_place, to, ground->mirror); });
    return true;
}

} // namespace fulvex
