#include "compared_eyes_figure.h"

#include "eye_density.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// How dark an eye is at a place: 0 where nothing passes, 1 where most of it does, by the logarithm of the ratio.
class Tone {
public:
    explicit Tone(const EyeFold &fold)
        : m_counts(fold.picture), m_density(fold), m_most(std::max(1.0f, m_density.most())),
          m_whole(std::log1p(resolution))
    {
    }
    double at(double phase, double value) const
    {
        const int column = std::clamp(int((phase - std::floor(phase)) * m_counts.columns), 0, m_counts.columns - 1);
        const auto row = std::int64_t(std::floor(value / m_counts.rows.width())) - m_counts.rows.first;
        if (row < 0 || row >= m_counts.rows.count) return 0;
        const float passed = m_density.at(column, int(row));
        if (!(passed > 0)) return 0;
        constexpr double least = 0.12; // what happens once is seen
        return least + (1 - least) * std::log1p(resolution * double(passed / m_most)) / m_whole;
    }

private:
    static constexpr double resolution = 1000; ///< shades lie between the most and so much less
    const EyeCounts &m_counts;
    EyeDensity m_density;
    float m_most;
    double m_whole;
};

/// A tone of ink laid over a colour: as glass on paper, as light on a dark ground.
void lay(double (&colour)[3], const QColor &ink, double tone, bool dark)
{
    const double of[3] = {ink.redF(), ink.greenF(), ink.blueF()};
    for (int i = 0; i < 3; ++i)
        colour[i] = dark ? 1 - (1 - colour[i]) * (1 - tone * of[i]) : colour[i] * (1 - tone * (1 - of[i]));
}

} // namespace

ComparedEyesDrawing ComparedEyesDrawing::of(const From &from)
{
    const Tone first(*from.first), second(*from.second);
    const EyeCounts &one = from.first->picture, &other = from.second->picture;
    const int unit = std::max(one.columns, other.columns);
    const int columns = from.once ? unit : int(std::lround((from.right - from.left) * unit));
    constexpr int mostRows = 1024;
    const double height = std::min(one.rows.width(), other.rows.width());
    const int rows = std::clamp(int(std::lround((from.high - from.low) / height)), 1, mostRows);
    ComparedEyesDrawing drawing{from, QImage(columns, rows, QImage::Format_RGB32)};
    const QColor inks[2] = {from.look->trace(ComparedInks::first), from.look->trace(ComparedInks::second)};
    const double paper[3] = {from.look->tile.redF(), from.look->tile.greenF(), from.look->tile.blueF()};
    for (int row = 0; row < rows; ++row) {
        auto *line = reinterpret_cast<QRgb *>(drawing.image.scanLine(rows - 1 - row));
        const double value = from.low + (from.high - from.low) * (row + 0.5) / rows;
        for (int column = 0; column < columns; ++column) {
            const double share = (column + 0.5) / columns;
            const double phase = from.once ? share : from.left + share * (from.right - from.left);
            const double tones[2] = {first.at(phase, value), second.at(phase, value)};
            double colour[3] = {paper[0], paper[1], paper[2]};
            for (const int side : {0, 1}) {
                const double tone = from.difference ? std::max(0.0, tones[side] - tones[1 - side]) : tones[side];
                if (tone > 0) lay(colour, inks[side], tone, from.look->dark);
            }
            line[column] = qRgb(int(255 * colour[0] + 0.5), int(255 * colour[1] + 0.5), int(255 * colour[2] + 0.5));
        }
    }
    return drawing;
}

ComparedEyesFigure comparedEyesFigure(const Results &first, const Results &second, const std::string &eye,
                                      const QString &firstName, const QString &secondName, bool difference)
{
    ComparedEyesFigure figure;
    figure.names[0] = firstName;
    figure.names[1] = secondName;
    figure.difference = difference;
    figure.second = eyeFigure(second, eye);
    figure.title = figure.second.title;
    if (!figure.second.empty.isEmpty()) {
        figure.empty = figure.second.empty;
        return figure;
    }
    if (!findEntry(first.eyes, eye)) {
        figure.empty = QString("%1 has no eye called %2.").arg(firstName, text(eye));
        return figure;
    }
    figure.first = eyeFigure(first, eye);
    if (!figure.first.empty.isEmpty()) {
        figure.empty = firstName + ": " + figure.first.empty;
        return figure;
    }
    const auto axis = [](const EyeFigure &one) { return std::tuple(one.across(), one.rule.overlay(), one.unit); };
    if (axis(figure.first) != axis(figure.second)) {
        figure.empty = "One is an eye and the other an overlay, or they are in other units: they do not lie on each "
                       "other.";
        return figure;
    }
    if (figure.second.rule.overlay()) {
        const double wider = std::max(figure.first.right - figure.first.left, figure.second.right - figure.second.left);
        if (std::abs(figure.first.left - figure.second.left) > 1e-6 * wider ||
            std::abs(figure.first.right - figure.second.right) > 1e-6 * wider) {
            figure.empty = "The two overlays are not as wide: they do not lie on each other.";
            return figure;
        }
    }
    figure.low = std::min(figure.first.low, figure.second.low);
    figure.high = std::max(figure.first.high, figure.second.high);
    figure.facts = figure.first.facts.section(" · ", 0, 0) + " | " + figure.second.facts.section(" · ", 0, 0);
    if (!figure.second.verdict.isEmpty() && !figure.first.verdict.isEmpty())
        figure.aside = figure.first.verdict.section(" · ", 0, 0) + " | " + figure.second.verdict.section(" · ", 0, 0);
    return figure;
}

std::optional<ComparedEyesDrawing::From> ComparedEyesFigure::drawingFrom(const Look &look) const
{
    if (!empty.isEmpty() || !first.fold || !second.fold) return {};
    return ComparedEyesDrawing::From{first.fold,   second.fold,           low,        high, second.left,
                                     second.right, second.rule.overlay(), difference, &look};
}

void paintComparedNames(QPainter &painter, QPointF at, const QString &first, const QString &second, const Look &look)
{
    constexpr double dot = 7, gap = 5, between = 14; // pixels
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(look.font(10));
    const int inks[2] = {ComparedInks::first, ComparedInks::second};
    double x = at.x();
    for (const int side : {0, 1}) {
        const QString &name = side == 0 ? first : second;
        painter.setPen(Qt::NoPen);
        painter.setBrush(look.trace(inks[side]));
        painter.drawEllipse(QRectF(x, at.y() - dot / 2, dot, dot));
        painter.setPen(look.ink);
        const double width = painter.fontMetrics().horizontalAdvance(name);
        painter.drawText(QPointF(x + dot + gap, at.y() + painter.fontMetrics().ascent() / 2.0 - 1), name);
        x += dot + gap + width + between;
    }
    painter.restore();
}

void paintComparedEyes(QPainter &painter, const QRectF &area, const ComparedEyesFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    const QRectF plot = figure.second.plotRect(area);
    painter.save();
    if (figure.drawing) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
        const auto &of = figure.drawing->from;
        const EyeWindow window{plot, figure.second.left, figure.second.right, figure.low, figure.high};
        painter.setClipRect(plot, Qt::IntersectClip);
        painter.drawImage(QRectF(window.pointOf(of.left, of.high), window.pointOf(of.right, of.low)),
                          figure.drawing->image);
    }
    painter.restore();
    paintAxes(painter, plot, {figure.second.left, figure.second.right, figure.second.across()},
              {figure.low, figure.high, figure.second.unit}, look);
    paintComparedNames(painter, plot.topLeft() + QPointF(8, 10), figure.names[0], figure.names[1], look);
}

} // namespace fulvex
