#include "level_pen.h"

#include "references.h"

#include <QCoreApplication>

namespace fulvex {

namespace {

constexpr double size = 6; ///< pixels of a grip

QPointF gripOf(const EyeWindow &window, double value, bool threshold)
{
    const QPointF at = window.pointOf(threshold ? window.right : window.left, value);
    return {threshold ? window.plot.right() - size : window.plot.left() + size, at.y()};
}

} // namespace

std::optional<LevelPen::Values> LevelPen::valuesOf(const std::string &eye) const
{
    const EyeResult *found = m_bench.results() ? findEntry(m_bench.results()->eyes, eye) : nullptr;
    if (!found || !found->fold || found->rule.thresholds.size() < 2) return {};
    Values values{{}, found->rule.thresholds};
    for (std::size_t symbol = 0; symbol <= values.thresholds.size(); ++symbol) {
        const Moments &its = found->fold->sum.level(symbol);
        // One that nothing was taken for lies between its thresholds, of which it has two or is at an end.
        const double below = symbol > 0 ? values.thresholds[symbol - 1] : values.thresholds.front(),
                     above = symbol < values.thresholds.size() ? values.thresholds[symbol] : values.thresholds.back();
        values.levels.push_back(its.count > 0 ? its.mean : (below + above) / 2);
    }
    return values;
}

bool LevelPen::isOn(const std::string &eye) const
{
    const Selection &selection = m_bench.selection();
    const EyeEntry *entry = findEntry(m_bench.document().eyes, eye);
    return entry && (selection.id == eye || selection.id == entry->clock) && valuesOf(eye);
}

void LevelPen::paint(QPainter &painter, const std::string &eye, const EyeWindow &window, const Look &look) const
{
    const auto values = valuesOf(eye);
    if (!values) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const auto mark = [&](double value, bool threshold, bool held) {
        const QPointF grip = gripOf(window, value, threshold);
        painter.setPen(QPen(look.accent, 1, threshold ? Qt::DashLine : Qt::SolidLine));
        if (held || threshold)
            painter.drawLine(QPointF(window.plot.left(), grip.y()), QPointF(window.plot.right(), grip.y()));
        painter.setPen(QPen(look.accent, 1.4));
        painter.setBrush(held ? look.accent : look.tile);
        const double towards = threshold ? -size : size; // it points into the eye
        painter.drawPolygon(
            QPolygonF{grip + QPointF(towards, 0), grip + QPointF(-towards, -size), grip + QPointF(-towards, size)});
    };
    for (std::size_t i = 0; i < values->levels.size(); ++i)
        mark(values->levels[i], false, m_held && !m_threshold && m_index == i);
    for (std::size_t i = 0; i < values->thresholds.size(); ++i)
        mark(values->thresholds[i], true, m_held && m_threshold && m_index == i);
    painter.restore();
}

bool LevelPen::press(const std::string &eye, const EyeWindow &window, QPointF at)
{
    const auto values = isOn(eye) ? valuesOf(eye) : std::nullopt;
    if (!values) return false;
    for (const bool threshold : {true, false}) {
        const auto &list = threshold ? values->thresholds : values->levels;
        for (std::size_t i = 0; i < list.size(); ++i) {
            if ((gripOf(window, list[i], threshold) - at).manhattanLength() > 2 * size) continue;
            m_held = true;
            m_threshold = threshold;
            m_index = i;
            ++m_drag;
            return true;
        }
    }
    return false;
}

bool LevelPen::drag(const std::string &eye, const EyeWindow &window, QPointF to)
{
    const auto values = valuesOf(eye);
    const EyeEntry *entry = findEntry(m_bench.document().eyes, eye);
    if (!m_held || !values || !entry) return m_held;
    std::vector<double> list = m_threshold ? values->thresholds : values->levels;
    if (m_index >= list.size()) return true;
    // Between its neighbours.
    const double gap = 1e-3 * (window.high - window.low);
    double value = window.valuesAt(to).y();
    if (m_index > 0) value = std::max(value, list[m_index - 1] + gap);
    if (m_index + 1 < list.size()) value = std::min(value, list[m_index + 1] - gap);
    list[m_index] = value;
    m_bench.change(
        QCoreApplication::translate("LevelPen", "set the levels of the symbols"),
        [&](Document &document) {
            ClockEntry *clock = findEntry(document.clocks, entry->clock);
            if (!clock) return;
            LevelsEntry *own = findEntry(document.levels, clock->levels);
            if (!own || usersOf(document, own->id).size() > 1) { // a set of its own
                LevelsEntry fresh = document.levelsOf(clock->levels);
                fresh.id = freeId(document, clock->id + "_levels");
                clock->levels = fresh.id;
                document.levels.push_back(fresh);
                own = &document.levels.back();
            }
            (m_threshold ? own->thresholds : own->symbolLevels) = list;
        },
        QString("levels %1").arg(m_drag));
    return true;
}

} // namespace fulvex
