#include "eye_marks.h"

#include "eye_figure.h"
#include "level_keys.h"

#include <cmath>

namespace fulvex {

namespace {

/// What marks are drawn from: an opening of an eye.
class Marker {
public:
    Marker(const EyeResult &eye, std::size_t opening, double value)
        : m_zero(eye.fold->sum.level(opening)), m_one(eye.fold->sum.level(opening + 1)),
          m_share(value / eye.unitInterval)
    {
        const double crossing = eye.fold->crossing(opening);
        const bool meets = crossing == crossing && eye.rule.thresholds.size() == 1;
        m_crossing = meets ? crossing : (m_zero.mean + m_one.mean) / 2;
    }
    bool known() const { return m_zero.count > 0 && m_one.count > 0; }
    /// `levels`: that transitions go between.
    std::vector<EyeMark> of(const std::string &quantity, const LevelRule &levels) const
    {
        const double height = m_one.mean - m_zero.mean;
        if (quantity == "one_level") return {level(m_one.mean)};
        if (quantity == "zero_level") return {level(m_zero.mean)};
        if (quantity == "one_noise") return {noise(m_one), level(m_one.mean)};
        if (quantity == "zero_noise") return {noise(m_zero), level(m_zero.mean)};
        if (quantity == "q_factor" || quantity == "signal_to_noise")
            return {noise(m_zero), noise(m_one), up(m_zero.mean, m_one.mean)};
        if (quantity == "eye_amplitude") return {level(m_zero.mean), level(m_one.mean), up(m_zero.mean, m_one.mean)};
        if (quantity == "eye_height") return {up(m_zero.mean + 3 * m_zero.std(), m_one.mean - 3 * m_one.std())};
        if (quantity == "crossing_level")
            return {across(m_crossing, -0.15, 0.15),
                    across(m_crossing, 0.85, 1.15),
                    {EyeMark::As::arrow, 0, m_zero.mean, 0, m_crossing}};
        if (quantity == "eye_width")
            return {{EyeMark::As::arrow, 0.5 - m_share / 2, m_crossing, 0.5 + m_share / 2, m_crossing}};
        if (quantity == "eye_jitter_rms") return jitter(m_share);
        if (quantity == "eye_jitter_pp") return jitter(m_share / 2);
        if (quantity == "eye_rise_time" || quantity == "eye_fall_time") {
            const bool percent = levels.kind == LevelRule::Kind::percent;
            const auto at = [&](double level) { return percent ? m_zero.mean + level / 100 * height : level; };
            const double middle = m_zero.mean + height / 2;
            return {across(at(levels.low), -0.25, 0.25),
                    across(at(levels.high), -0.25, 0.25),
                    {EyeMark::As::arrow, -m_share / 2, middle, m_share / 2, middle}};
        }
        return {};
    }

private:
    static EyeMark across(double y, double from, double to) { return {EyeMark::As::level, from, y, to, y}; }
    static EyeMark level(double y) { return across(y, 0.4, 0.6); }
    static EyeMark up(double low, double high) { return {EyeMark::As::arrow, 0.5, low, 0.5, high}; }
    static EyeMark noise(const Moments &of)
    {
        return {EyeMark::As::spread, 0.4, of.mean - of.std(), 0.6, of.mean + of.std()};
    }
    /// Instants to either side of both crossings.
    std::vector<EyeMark> jitter(double reach) const
    {
        const double tall = 0.06 * (m_one.mean - m_zero.mean);
        const auto about = [&](double x) {
            return EyeMark{EyeMark::As::spread, x - reach, m_crossing - tall, x + reach, m_crossing + tall};
        };
        return {about(0), about(1), across(m_crossing, -0.15, 0.15), across(m_crossing, 0.85, 1.15)};
    }
    const Moments &m_zero, &m_one;
    double m_share, m_crossing;
};

} // namespace

std::vector<EyeMark> eyeMarks(const Results &results, const EyeResult &eye, const std::string &id)
{
    const MeasurementEntry *entry = findEntry(results.document->measurements, id);
    const Row *row = findEntry(results.rows, id);
    if (!entry || !row || entry->eye != eye.id || !row->measurable() || !row->statistics.mean || !eye.fold) return {};
    const Marker marker(eye, std::size_t(entry->opening.value_or(0)), *row->statistics.mean);
    if (!marker.known()) return {};
    return marker.of(entry->quantity, eyeLevelsRule(results.document->levelsOf(entry->levels)));
}

void paintEyeMarks(QPainter &painter, const QRectF &plot, const EyeFigure &figure, const Look &look)
{
    constexpr double barb = 4;
    for (const EyeMark &mark : figure.marks) {
        const QPointF from = figure.pointOf(plot, mark.fromX, mark.fromY),
                      to = figure.pointOf(plot, mark.toX, mark.toY);
        if (mark.as == EyeMark::As::spread) {
            QColor wash = look.accent;
            wash.setAlpha(90);
            painter.setPen(QPen(look.accent, 1));
            painter.setBrush(wash);
            painter.drawRect(QRectF(from, to).normalized());
            continue;
        }
        painter.setBrush(Qt::NoBrush);
        for (const bool halo : {true, false}) { // so that it is told from the eye that it lies on
            painter.setPen(QPen(halo ? look.tile : look.accent, halo ? 5 : 2));
            painter.drawLine(from, to);
            if (mark.as != EyeMark::As::arrow) continue;
            const QLineF along(from, to);
            const QPointF aside = QPointF(along.dy(), -along.dx()) / std::max(1.0, along.length()) * barb;
            for (const QPointF &end : {from, to}) painter.drawLine(end - aside, end + aside);
        }
    }
}

} // namespace fulvex
