#include "eye_figure.h"

#include "count_text.h"
#include "lap_fold.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace fulvex {

static QString counted(std::int64_t count)
{
    return text(countText(double(count)));
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

/// What is laid over each other in it.
static QString titleOf(const EyeResult &eye, const EyeEntry *entry)
{
    if (!entry || entry->atUnitIntervals()) return text(eye.source + " · " + eye.clock);
    if (entry->atPattern()) return text(eye.source + " · pattern by " + eye.clock);
    const std::string by = entry->trigger.empty() || entry->trigger == entry->source ? "" : " of " + entry->trigger;
    return text(eye.source + " · " + (entry->each == "both" ? "all" : entry->each) + " edges" + by);
}

static QString countOf(const EyeResult &eye)
{
    const QString count = counted(eye.fold->unitIntervals);
    if (!eye.rule.overlay()) return count + " UI";
    if (!eye.rule.across.seconds) return count + " repeats of " + counted(eye.rule.laps.each) + " UI";
    if (eye.triggers == eye.fold->unitIntervals) return count + " edges";
    return count + " of " + counted(eye.triggers) + " edges";
}

/// The lap, or unit interval, that a failure is in; none where it has none of its own.
static std::optional<std::int64_t> lapAt(const EyeFigure &figure, const MaskFailure &failure)
{
    if (!figure.rule.across.seconds) return failure.unitInterval;
    return figure.by ? lapAt(figure.by->map, figure.rule, failure.worstTime) : std::nullopt;
}

/// The mask, and what failed it.
static void layMask(EyeFigure &figure, const MaskRun &mask, const EyeResult &eye)
{
    figure.mask = mask.id;
    if (!mask.result) {
        figure.verdict = text(mask.reason);
        return;
    }
    const auto grownBy = [&](double margin) {
        std::vector<MaskShape> shapes;
        for (const MaskArea &area : mask.definition.areas)
            shapes.push_back(MovableArea(area, mask.definition, mask.zero, mask.one).at(margin));
        return shapes;
    };
    figure.areas = grownBy(mask.appliedMargin);
    if (mask.pending || eye.pending) {
        figure.verdict = "mask: being tested";
        return;
    }
    figure.failed = mask.verdict == Verdict::fail;
    if (mask.result->margin) figure.farthest = grownBy(*mask.result->margin);
    const QString margin = text(quantityText(100 * mask.result->margin.value_or(0), "%", {}, 3));
    figure.verdict = figure.failed
                         ? QString("%1 failed · margin %2").arg(counted(mask.result->failedUnitIntervals), margin)
                         : QString("passes · margin %1").arg(margin);
    std::vector<MaskFailure> shown = mask.result->worst;
    constexpr std::size_t few = 16; // more of them are a pattern rather than single ones
    if (shown.size() <= few) {
        for (const MaskFailure &failure : shown)
            if (const auto n = lapAt(figure, failure)) figure.singled.push_back(*n);
        figure.singledFailed = true;
    }
    if (shown.size() == MaskResult::keptFailures) // else the others are among them
        shown.insert(shown.end(), mask.result->failures.begin(), mask.result->failures.end());
    for (const MaskFailure &failure : shown)
        figure.failures.push_back({failure.phase, failure.value, failure.worstTime - eye.unitInterval / 2,
                                   failure.worstTime + eye.unitInterval / 2, failure.capture});
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
    const EyeEntry *entry = findEntry(results.document->eyes, eyeId);
    figure.title = titleOf(*eye, entry);
    if (!eye->reason.empty()) {
        figure.empty = text(eye->reason);
        return figure;
    }
    figure.fold = eye->fold;
    figure.rule = eye->rule;
    figure.facts = countOf(*eye);
    if (eye->fold->interpolation > 1) figure.facts += QString(" · interpolated ×%1").arg(eye->fold->interpolation);
    if (eye->share < 1)
        figure.facts =
            QString("%1 of the record so far, in parts · ").arg(text(quantityText(100 * eye->share, "%", {}, 2))) +
            figure.facts;
    else if (eye->pending)
        figure.facts = "being folded anew · " + figure.facts;
    if (entry) {
        figure.left = 0.5 - entry->width / 2.0;
        figure.right = 0.5 + entry->width / 2.0;
        figure.shown = entry->shown;
    }
    const bool overlay = figure.rule.overlay();
    if (overlay) figure.left = figure.rule.left(), figure.right = figure.rule.right();
    figure.errors = eye->errors;
    if (figure.shown == "error_ratio")
        figure.facts += overlay         ? QString(" · error ratios are of unit intervals alone")
                        : figure.errors ? QString(" · errors 1e-3, 1e-6 … 1e-12, dashed: extrapolated")
                                        : QString(" · error ratios: not yet");
    figure.source = eye->source;
    figure.samples = eye->samples;
    figure.by = eye->by;
    showRange(figure);
    const ChannelResult *channel = findEntry(results.channels, eye->source);
    if (channel) figure.unit = channel->unit;
    if (const MaskRun *mask = maskOn(results, eyeId)) layMask(figure, *mask, *eye);
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

QString EyeFigure::wordsAt(double x, double value) const
{
    if (!fold) return {};
    const QString place =
        rule.across.seconds ? text(quantityText(x, "s", (right - left) / 1000)) : text(fixedText(x, 3)) + " UI";
    QString words = place + " · " + text(quantityText(value, unit, (high - low) / 1000));
    const double phase = rule.overlay() ? (x - left) / (right - left) : x - std::floor(x);
    const EyeCounts &hits = fold->picture;
    const auto row = std::int64_t(std::floor(value / hits.rows.width())) - hits.rows.first;
    if (row >= 0 && row < hits.rows.count) {
        const int column = std::min(hits.columns - 1, int(phase * hits.columns));
        double inColumn = 0;
        for (int each = 0; each < hits.rows.count; ++each) inColumn += double(hits.at(column, each));
        const double here = double(hits.at(column, int(row)));
        if (inColumn > 0) words += " · hit ratio " + QString::number(here / inColumn, 'g', 2);
    }
    if (!errors) return words;
    std::optional<EyeErrorRatio::Ratio> least;
    for (std::size_t opening = 0; opening + 1 < errors->symbols.size(); ++opening) {
        const auto found =
            errors->at(std::min(EyeErrorRatio::columns - 1, int(phase * EyeErrorRatio::columns)), value, opening);
        if (found && (!least || found->value < least->value)) least = found;
    }
    if (!least) return words;
    constexpr double nothing = 1e-30; // nobody waits for one
    const QString ratio = least->value < nothing ? QString("below 1e-30") : QString::number(least->value, 'g', 2);
    words += " · error ratio " + ratio + (least->measured ? ", measured" : ", extrapolated");
    return words;
}

std::optional<EyePicture::From> EyeFigure::pictureFrom(const Look &look) const
{
    if (!empty.isEmpty() || !fold) return {};
    const EyeCounts &counts = fold->picture;
    const auto rowOf = [&](double value) {
        return int(std::lround(value / counts.rows.width() - double(counts.rows.first)));
    };
    EyePicture::From from{fold, rowOf(low), rowOf(high), &look, left, right, shown};
    from.rule = rule;
    from.errors = errors;
    if (shown != "traces") return from;
    from.samples = samples;
    from.by = by;
    return from;
}

std::optional<EyePaths::From> EyeFigure::pathsFrom() const
{
    std::vector<std::int64_t> wanted = singled;
    if (chosen && std::find(wanted.begin(), wanted.end(), *chosen) == wanted.end()) wanted.push_back(*chosen);
    if (wanted.empty() || !samples || !by) return {};
    return EyePaths::From{samples, by, std::move(wanted), rule};
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

/// Areas within which a decision is wrong so seldom; dashed where that is extrapolated.
static void paintErrorRatios(QPainter &painter, const QRectF &plot, const EyeFigure &figure, const Look &look)
{
    if (!figure.picture) return;
    painter.setFont(look.font(9));
    for (const EyeErrorRatio::Contour &contour : figure.picture->contours) {
        QPolygonF line;
        for (const auto &[phase, level] : contour.points) line << figure.pointOf(plot, phase, level);
        line << line.first();
        for (const bool halo : {true, false}) {
            painter.setPen(QPen(halo ? look.tile : look.trace(0), halo ? 3 : 1.4,
                                contour.measured || halo ? Qt::SolidLine : Qt::DashLine));
            painter.drawPolyline(line);
        }
        // The innermost of an opening alone: words on the others would cover each other.
        const bool innermost = &contour == &figure.picture->contours.back() || (&contour)[1].ratio > contour.ratio;
        if (!innermost) continue;
        const QString words = QString("1e%1").arg(std::lround(std::log10(contour.ratio)));
        const QPointF top = line[qsizetype(contour.points.size() / 4)];
        const QRectF box(top.x() - 14, top.y() - 6, 28, 12);
        painter.fillRect(box, look.tile);
        painter.setPen(look.words(look.trace(0)));
        painter.drawText(box, Qt::AlignCenter, words);
    }
}

/// The mean of an overlay's laps.
static void paintMean(QPainter &painter, const QRectF &plot, const EyeFigure &figure, const Look &look)
{
    constexpr int few = 64; // UI: of more it would cover what it is the mean of
    if (!figure.picture || figure.picture->mean.empty() || figure.rule.laps.lasts > few) return;
    const std::vector<double> &mean = figure.picture->mean;
    const double column = (figure.picture->right - figure.picture->left) / double(mean.size());
    QPolygonF line;
    for (std::size_t i = 0; i < mean.size(); ++i)
        if (mean[i] == mean[i])
            line << figure.pointOf(plot, figure.picture->left + (double(i) + 0.5) * column, mean[i]);
    QPen pen(look.trace(0), 1);
    pen.setDashPattern({6, 5}); // what it lies on is seen
    painter.setPen(pen);
    painter.drawPolyline(line);
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
        painter.drawImage(QRectF(figure.pointOf(plot, figure.picture->left, figure.picture->high),
                                 figure.pointOf(plot, figure.picture->right, figure.picture->low)),
                          figure.picture->image);
        painter.restore();
    }
    paintAxes(painter, plot, {figure.left, figure.right, figure.across()}, {figure.low, figure.high, figure.unit},
              look);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setClipRect(plot, Qt::IntersectClip);
    paintErrorRatios(painter, plot, figure, look);
    paintMean(painter, plot, figure, look);
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
