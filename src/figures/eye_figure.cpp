#include "eye_figure.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace fulvex {

static QString counted(std::int64_t count)
{
    QString digits = QString::number(count);
    for (qsizetype at = digits.size() - 3; at > 0; at -= 3) digits.insert(at, QChar(0x2009));
    return digits;
}

/// The samples' extremes and a third as much around them, in whole rows.
static void showRange(EyeFigure &figure)
{
    const EyeCounts &counts = figure.fold->picture;
    const double height = counts.rows.width(), pad = 0.34 * (counts.most - counts.least);
    figure.low = std::max(counts.rows.low(), height * std::floor((counts.least - pad) / height));
    figure.high = std::min(counts.rows.high(), height * std::ceil((counts.most + pad) / height));
    if (!(figure.high > figure.low)) figure.low = counts.rows.low(), figure.high = counts.rows.high();
}

EyeFigure eyeFigure(const Results &results, const std::string &eyeId)
{
    EyeFigure figure;
    figure.eye = eyeId;
    const EyeResult *eye = findEntry(results.eyes, eyeId);
    if (const EyeEntry *entry = findEntry(results.document->eyes, eyeId); entry && !eye) {
        figure.title = text(entry->source + " · " + entry->clock);
        figure.empty = "Folding…";
        return figure;
    }
    if (!eye) {
        figure.title = "Eye";
        figure.empty = "No eye here yet: choose a clock in the Chain and add an eye to it.";
        return figure;
    }
    figure.title = text(eye->source + " · " + eye->clock);
    if (!eye->reason.empty()) {
        figure.empty = text(eye->reason);
        return figure;
    }
    figure.fold = eye->fold;
    figure.facts = counted(eye->fold->unitIntervals) + " UI";
    if (eye->fold->interpolation > 1) figure.facts += QString(" · interpolated ×%1").arg(eye->fold->interpolation);
    if (eye->share < 1)
        figure.facts =
            QString("%1 of the record so far, in parts · ").arg(text(quantityText(100 * eye->share, "%", {}, 2))) +
            figure.facts;
    else if (eye->pending)
        figure.facts = "being folded anew · " + figure.facts;
    figure.source = eye->source;
    figure.samples = eye->samples;
    figure.by = eye->by;
    showRange(figure);
    const ChannelResult *channel = findEntry(results.channels, eye->source);
    if (channel) figure.unit = channel->unit;
    for (const MaskRun &mask : results.masks) {
        if (mask.eye != eyeId) continue;
        figure.mask = mask.id;
        if (!mask.result) {
            figure.verdict = text(mask.reason);
            break;
        }
        const bool known = !mask.pending && !eye->pending;
        for (const MaskArea &area : mask.definition.areas)
            figure.areas.push_back(MovableArea(area, mask.definition, mask.zero, mask.one).at(mask.appliedMargin));
        if (!known) figure.verdict = "mask: being tested";
        if (!known) break;
        figure.failed = mask.verdict == Verdict::fail;
        if (mask.result->margin) {
            for (const MaskArea &area : mask.definition.areas)
                figure.farthest.push_back(
                    MovableArea(area, mask.definition, mask.zero, mask.one).at(*mask.result->margin));
        }
        const QString margin = text(quantityText(100 * mask.result->margin.value_or(0), "%", {}, 3));
        figure.verdict = figure.failed
                             ? QString("%1 failed · margin %2").arg(counted(mask.result->failedUnitIntervals), margin)
                             : QString("passes · margin %1").arg(margin);
        std::vector<MaskFailure> shown = mask.result->worst;
        constexpr std::size_t few = 16; // more of them are a pattern rather than single ones
        if (shown.size() <= few) {
            for (const MaskFailure &failure : shown) figure.singled.push_back(failure.unitInterval);
            figure.singledFailed = true;
        }

        if (shown.size() == MaskResult::keptFailures) // else the others are among them
            shown.insert(shown.end(), mask.result->failures.begin(), mask.result->failures.end());
        for (const MaskFailure &failure : shown)
            figure.failures.push_back({failure.phase, failure.value, failure.worstTime - eye->unitInterval / 2,
                                       failure.worstTime + eye->unitInterval / 2});
        break;
    }
    return figure;
}

QPointF EyeFigure::pointOf(const QRectF &plot, double x, double y) const
{
    return window(plot).pointOf(x, y);
}

QPointF EyeFigure::valuesAt(const QRectF &plot, QPointF point) const
{
    return window(plot).valuesAt(point);
}

namespace {

/// How dense an eye is in each cell of one unit interval, as many traces as passed: curves where they were drawn,
/// scaled to all of the record, and what else was hit.
class Density {
public:
    explicit Density(const EyeFold &fold)
        : m_hits(fold.picture), m_curves(fold.curves.counts), m_columns(m_hits.columns), m_rows(m_hits.rows.count),
          m_cells(m_hits.counts.size())
    {
        const bool drawn = fold.curves.unitIntervals > 0 && m_curves.rows == m_hits.rows;
        const auto &counts = drawn ? m_curves.counts : m_hits.counts;
        const float scale = drawn ? float(double(fold.unitIntervals) / double(fold.curves.unitIntervals)) : 1;
        for (std::size_t i = 0; i < m_cells.size(); ++i) m_cells[i] = float(counts[i]) * scale;
        if (drawn && fold.curves.unitIntervals < fold.unitIntervals) addRareHits();
    }
    float at(int column, int row) const { return m_cells[cell(column, row)]; }
    float most() const { return *std::max_element(m_cells.begin(), m_cells.end()); }

private:
    std::size_t cell(int column, int row) const
    {
        return std::size_t(row) * std::size_t(m_columns) + std::size_t(column);
    }
    bool isDrawn(int column, int row) const { return m_curves.counts[cell(column, row)] > 0; }
    /// Hits where no curve was drawn, since that of their unit interval was not. Where samples come at the same phases
    /// again and again, all of them lie in few columns: then each stands for what lies between these as well, along
    /// the border of the curves.
    void addRareHits()
    {
        findBorders();
        const int reach = reachOfColumns();
        for (int row = 0; row < m_rows; ++row) {
            for (int column = 0; column < m_columns; ++column) {
                const std::uint64_t hits = m_hits.counts[cell(column, row)];
                if (hits > 0 && !isDrawn(column, row)) addAlong(column, row, float(hits), reach);
            }
        }
    }
    void addAlong(int column, int row, float hits, int reach)
    {
        m_cells[cell(column, row)] = std::max(m_cells[cell(column, row)], hits);
        constexpr int few = 12; // rows from the curves, within which hits follow their border
        const int border = m_border[cell(column, row)];
        if (border < 0 || std::abs(row - border) > few) return;
        for (int step = -reach; step <= reach; ++step) {
            const int beside = (column + step + m_columns) % m_columns, from = m_border[cell(beside, border)];
            const int there = from + row - border;
            if (from < 0 || there < 0 || there >= m_rows || isDrawn(beside, there)) continue;
            m_cells[cell(beside, there)] = std::max(m_cells[cell(beside, there)], hits);
        }
    }
    /// How far half the way to the next columns that are hit is, where there is a comb of them; else 0.
    int reachOfColumns() const
    {
        std::vector<double> totals(static_cast<std::size_t>(m_columns));
        for (int row = 0; row < m_rows; ++row)
            for (int column = 0; column < m_columns; ++column)
                totals[std::size_t(column)] += double(m_hits.counts[cell(column, row)]);
        const double mean = std::accumulate(totals.begin(), totals.end(), 0.0) / double(totals.size());
        int longest = 0, run = 0;
        for (std::size_t i = 0; i < 2 * totals.size(); ++i) {
            run = totals[i % totals.size()] < mean / 2 ? run + 1 : 0;
            longest = std::max(longest, std::min(run, m_columns / 8));
        }
        return (longest + 1) / 2;
    }
    /// Of each cell the nearest row of its column that a curve passes; -1: none does.
    void findBorders()
    {
        m_border.assign(m_cells.size(), -1);
        for (int row = 0; row < m_rows; ++row)
            for (int column = 0; column < m_columns; ++column)
                m_border[cell(column, row)] = isDrawn(column, row) ? row
                                              : row > 0            ? m_border[cell(column, row - 1)]
                                                                   : -1;
        std::vector<int> above(static_cast<std::size_t>(m_columns), -1);
        for (int row = m_rows; row-- > 0;) {
            for (int column = 0; column < m_columns; ++column) {
                int &next = above[std::size_t(column)], &known = m_border[cell(column, row)];
                if (isDrawn(column, row)) next = row;
                if (next >= 0 && (known < 0 || next - row < row - known)) known = next;
            }
        }
    }
    const EyeCounts &m_hits, &m_curves;
    int m_columns, m_rows;
    std::vector<float> m_cells;
    std::vector<int> m_border;
};

} // namespace

EyePicture EyePicture::of(const From &from)
{
    const EyeCounts &counts = from.fold->picture;
    EyePicture picture{QImage(2 * counts.columns, from.last - from.first, QImage::Format_RGB32),
                       (double(counts.rows.first) + from.first) * counts.rows.width(),
                       (double(counts.rows.first) + from.last) * counts.rows.width()};
    const Density density(*from.fold);
    const double scale = 1 / std::log1p(double(std::max(1.0f, density.most())));
    QRgb ramp[256];
    for (int i = 0; i < 256; ++i) ramp[i] = from.look->density(0.10 + 0.90 * i / 255.0).rgb();
    const QRgb nothing = from.look->tile.rgb();
    for (int row = from.first; row < from.last; ++row) {
        auto *line = reinterpret_cast<QRgb *>(picture.image.scanLine(from.last - 1 - row));
        for (int column = 0; column < counts.columns; ++column) {
            const float count = density.at((column + counts.columns / 2) % counts.columns, row);
            line[column] =
                count == 0 ? nothing : ramp[std::min(255, int(std::log1p(double(count)) * scale * 255 + 0.5))];
        }
        std::copy_n(line, counts.columns, line + counts.columns); // the second unit interval is the first again
    }
    return picture;
}

std::optional<EyePicture::From> EyeFigure::pictureFrom(const Look &look) const
{
    if (!empty.isEmpty() || !fold) return {};
    const EyeCounts &counts = fold->picture;
    const auto rowOf = [&](double value) {
        return int(std::lround(value / counts.rows.width() - double(counts.rows.first)));
    };
    return EyePicture::From{fold, rowOf(low), rowOf(high), &look};
}

std::optional<EyePaths::From> EyeFigure::pathsFrom() const
{
    std::vector<std::int64_t> wanted = singled;
    if (chosen && std::find(wanted.begin(), wanted.end(), *chosen) == wanted.end()) wanted.push_back(*chosen);
    if (wanted.empty() || !samples || !by) return {};
    return EyePaths::From{samples, by, std::move(wanted)};
}

static void paintPaths(QPainter &painter, const QRectF &plot, const EyeFigure &figure, const Look &look)
{
    if (!figure.paths) return;
    const EyePaths::Path *above = nullptr;
    const auto paint = [&](const EyePaths::Path &path, const QPen &pen) {
        QPolygonF line;
        for (const QPointF &point : path.curve) line << figure.pointOf(plot, point.x(), point.y());
        painter.setPen(pen);
        painter.drawPolyline(line);
    };
    QColor ink = figure.singledFailed ? look.fail : look.accent;
    ink.setAlphaF(float(std::clamp(3.0 / double(figure.paths->paths.size()), 0.25, 0.9)));
    for (const EyePaths::Path &path : figure.paths->paths) {
        const auto &of = figure.singled;
        if (figure.chosen == path.unitInterval)
            above = &path;
        else if (std::find(of.begin(), of.end(), path.unitInterval) != of.end())
            paint(path, QPen(ink, 1.2));
    }
    if (!above) return;
    paint(*above, QPen(look.tile, 4)); // so that it is told from what it lies on
    paint(*above, QPen(figure.singledFailed ? look.fail : look.accent, 2));
}

void paintEye(QPainter &painter, const QRectF &area, const EyeFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) {
        paintEmpty(painter, area, figure.empty, look);
        return;
    }
    const QRectF plot = figure.plotRect(area);
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, true);
    if (figure.picture) {
        painter.save();
        painter.setClipRect(plot, Qt::IntersectClip);
        painter.drawImage(QRectF(figure.pointOf(plot, EyeFigure::left, figure.picture->high),
                                 figure.pointOf(plot, EyeFigure::right, figure.picture->low)),
                          figure.picture->image);
        painter.restore();
    }
    paintAxes(painter, plot, {EyeFigure::left, EyeFigure::right, "UI"}, {figure.low, figure.high, figure.unit}, look);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setClipRect(plot, Qt::IntersectClip);
    paintMask(painter, figure.window(plot), figure.areas, look);
    paintMaskOutline(painter, figure.window(plot), figure.farthest, look);
    paintPaths(painter, plot, figure, look);
    paintEyeMarks(painter, plot, figure, look);

    painter.setPen(QPen(look.fail, 1.8));
    constexpr double apart = 10; // pixels: more of them would be a blot
    std::set<std::pair<int, int>> taken;
    for (const EyeFigure::Failure &failure : figure.failures) {
        const QPointF at = figure.pointOf(plot, failure.x, failure.y);
        if (!taken.insert({int(at.x() / apart), int(at.y() / apart)}).second) continue;

        painter.drawLine(at + QPointF(-3.2, -3.2), at + QPointF(3.2, 3.2));
        painter.drawLine(at + QPointF(-3.2, 3.2), at + QPointF(3.2, -3.2));
    }
    if (figure.asked) {
        QColor wash = look.accent;
        wash.setAlpha(40);
        painter.setPen(QPen(look.accent, 1.4));
        painter.setBrush(wash);
        painter.drawRect(QRectF(figure.pointOf(plot, figure.asked->left(), figure.asked->top()),
                                figure.pointOf(plot, figure.asked->right(), figure.asked->bottom()))
                             .normalized());
    }
    painter.restore();
}

} // namespace fulvex
