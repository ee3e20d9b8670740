#include "budget_figure.h"

#include "number_text.h"
#include "suspects.h"

#include <QFontMetricsF>
#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Part = JitterBudget::Part;

QString seconds(double value, double uncertainty = 0)
{
    return text(quantityText(value, "s", uncertainty > 0 ? std::optional(uncertainty) : std::nullopt, 3));
}

/// "10^12" of an error ratio of 1e-12.
QString oneIn(double ratio)
{
    const double power = -std::log10(ratio), whole = std::round(power);
    if (std::abs(power - whole) > 1e-6) return QString("an error ratio of %1").arg(ratioText(ratio));
    static const QString raised[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
    QString words = "one error in 10";
    for (const QChar digit : QString::number(int(whole))) words += raised[digit.digitValue()];
    return words;
}

/// The pattern's edge that is latest or earliest, whichever is farther off.
QString worstOf(const DataDependence &data)
{
    const DataDependence::Group *worst = nullptr;
    for (const DataDependence::Group &group : data.groups)
        if (!worst || std::abs(group.mean) > std::abs(worst->mean)) worst = &group;
    return worst ? QString("worst: %1").arg(text(worst->symbols)) : QString();
}

BudgetFigure::Piece pieceOf(const std::vector<Suspect> &shared, const BudgetResult &result, std::size_t at,
                            const Look &look)
{
    const JitterMakeUp &found = *result.found;
    const Part &part = result.budget.parts[at];
    BudgetFigure::Piece piece;
    piece.part = at;
    piece.size = seconds(part.size);
    piece.leftOut = part.leftOut;
    switch (part.kind) {
    case Part::Kind::dutyCycle:
        piece.name = "duty";
        piece.ink = look.trace(3);
        break;
    case Part::Kind::pattern:
        piece.name = found.data.pattern > 0 ? "pattern" : "data";
        piece.remark = worstOf(found.data);
        piece.ink = look.trace(0);
        break;
    case Part::Kind::line:
        piece.name = text(quantityText(found.lines[part.line].frequency, "Hz", {}, 4));
        piece.remark = part.leftOut ? "left out" : "periodic";
        for (const SeenLine &line : linesElsewhere(shared, result.id, found.lines[part.line].frequency))
            piece.remark += (piece.remark.contains("also") ? ", " : ", also in ") + text(line.source);
        piece.ink = look.trace(1);
        break;
    case Part::Kind::bounded:
        piece.name = "bounded";
        piece.remark = "of no pattern or line";
        piece.ink = look.trace(4);
        break;
    case Part::Kind::random:
        piece.name = QString("random × %1").arg(text(fixedText(result.budget.factor, 2)));
        piece.remark = seconds(result.budget.random) + " rms";
        piece.ink = look.quiet;
        break;
    }
    return piece;
}

QRectF barOf(const QRectF &area)
{
    return {area.left() + 10, area.top() + 6, area.width() - 20, std::clamp(area.height() * 0.12, 12.0, 20.0)};
}

QRectF piecesOf(const QRectF &area)
{
    const QRectF bar = barOf(area);
    const double top = bar.bottom() + std::clamp(area.height() * 0.12, 14.0, 26.0);
    return {bar.left(), top, bar.width(), std::clamp(area.bottom() - top - 54, 18.0, 44.0)};
}

} // namespace

const BudgetResult *drawableBudget(const Results &results, const std::string &id, QString &title, QString &empty)
{
    title = text(id);
    const BudgetEntry *entry = findEntry(results.document->budgets, id);
    const BudgetResult *result = findEntry(results.budgets, id);
    if (!entry || !result) {
        empty = "This budget is no more.";
        return nullptr;
    }
    title = QString("%1 · %2").arg(text(result->source), text(entry->clock));
    if (result->reason.empty() && result->found) return result;
    empty = result->reason.empty() ? QString("Taking jitter apart…") : text(result->reason);
    return nullptr;
}

BudgetFigure budgetFigure(const Results &results, const std::string &id, const Look &look)
{
    BudgetFigure figure;
    figure.budget = id;
    const BudgetResult *result = drawableBudget(results, id, figure.title, figure.empty);
    if (!result) return figure;
    const JitterBudget &budget = result->budget;
    const DataDependence &data = result->found->data;
    const QString kind = !result->ofData    ? QString("a clock")
                         : data.pattern > 0 ? QString("pattern of %1").arg(data.pattern)
                                            : QString("data that do not repeat");
    figure.facts = QString("%1 · at %2").arg(kind, oneIn(budget.ratio));
    const double added = std::max(1e-30, budget.added());
    const std::vector<Suspect> shared = suspects(results);
    for (std::size_t at = 0; at < budget.parts.size(); ++at) {
        figure.pieces.push_back(pieceOf(shared, *result, at, look));
        figure.pieces.back().share = budget.parts[at].leftOut ? 0 : budget.parts[at].size / added;
    }
    figure.eaten = budget.total / budget.unitInterval;
    figure.limit = findEntry(results.document->budgets, id)->limit;
    figure.open = QString("open: %1 of %2").arg(seconds(budget.open()), seconds(budget.unitInterval));
    figure.sum = QString("The parts add to %1; together they eat %2, since their extremes seldom meet.")
                     .arg(seconds(added), seconds(budget.total));
    const auto out =
        std::count_if(budget.parts.begin(), budget.parts.end(), [](const Part &part) { return part.leftOut; });
    if (out > 0)
        figure.sum = QString("With %1 left out they eat %2 instead of %3.")
                         .arg(out == 1 ? QString("a line") : QString("%1 lines").arg(out), seconds(budget.total),
                              seconds(budget.whole));
    figure.verdict = QString("eaten %1 · open %2 UI")
                         .arg(seconds(budget.total, budget.uncertainty), text(fixedText(1 - figure.eaten, 3)));
    if (figure.limit) {
        figure.failed = figure.eaten > *figure.limit;
        figure.verdict +=
            QString(" · limit %1 UI %2").arg(text(fixedText(*figure.limit, 3)), figure.failed ? "×" : "✓");
    }
    return figure;
}

std::vector<QRectF> BudgetFigure::places(const QRectF &area) const
{
    const QRectF all = piecesOf(area);
    constexpr double narrow = 16, outWide = 22; // so that each can be hit
    std::vector<QRectF> found;
    double fixed = 0, shares = 0;
    for (const Piece &piece : pieces) {
        if (piece.leftOut)
            fixed += outWide;
        else if (piece.share * all.width() < narrow)
            fixed += narrow;
        else
            shares += piece.share;
    }
    double left = all.left();
    for (const Piece &piece : pieces) {
        const double wide = piece.leftOut                        ? outWide
                            : piece.share * all.width() < narrow ? narrow
                                                                 : piece.share / shares * (all.width() - fixed);
        found.push_back({left, all.top(), wide, all.height()});
        left += wide;
    }
    return found;
}

std::optional<std::size_t> BudgetFigure::partAt(const QRectF &area, QPointF at) const
{
    const std::vector<QRectF> all = places(area);
    for (std::size_t i = 0; i < all.size(); ++i)
        if (QRectF(all[i]).adjusted(0, 0, 0, 34).contains(at)) return pieces[i].part;
    return {};
}

void paintBudget(QPainter &painter, const QRectF &area, const BudgetFigure &figure, const Look &look)
{
    if (!figure.empty.isEmpty()) return paintEmpty(painter, area, figure.empty, look);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, true);
    const QRectF bar = barOf(area), all = piecesOf(area);
    // The unit interval: what is eaten, and what is left.
    const double eaten = std::clamp(figure.eaten, 0.0, 1.0) * bar.width();
    painter.setPen(Qt::NoPen);
    painter.fillRect(bar, look.panel);
    painter.fillRect(QRectF(bar.topLeft(), QSizeF(eaten, bar.height())), look.quiet);
    painter.setPen(QPen(look.hairline, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(bar);
    painter.drawLine(QPointF(bar.left(), bar.bottom()), all.topLeft());
    painter.drawLine(QPointF(bar.left() + eaten, bar.bottom()), all.topRight());
    painter.setFont(look.font(10));
    if (figure.limit) {
        const double at = bar.left() + std::clamp(*figure.limit, 0.0, 1.0) * bar.width();
        painter.setPen(QPen(look.fail, 1.6));
        painter.drawLine(QPointF(at, bar.top() - 3), QPointF(at, bar.bottom() + 3));
        painter.drawText(QRectF(at + 5, bar.top(), 120, bar.height()), Qt::AlignLeft | Qt::AlignVCenter,
                         QString("limit %1 UI").arg(text(fixedText(*figure.limit, 3))));
    }
    painter.setPen(look.quiet);
    if (eaten < 0.6 * bar.width())
        painter.drawText(bar.adjusted(0, 0, -6, 0), Qt::AlignRight | Qt::AlignVCenter, figure.open);
    const std::vector<QRectF> places = figure.places(area);
    double wordsFrom = all.left();
    for (std::size_t i = 0; i < places.size(); ++i) {
        const BudgetFigure::Piece &piece = figure.pieces[i];
        const QRectF place = places[i].adjusted(0.5, 0, -1, 0);
        if (piece.leftOut) {
            painter.setPen(QPen(piece.ink, 1, Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(place);
        } else {
            painter.fillRect(place, piece.ink);
        }
        if (figure.chosen == piece.part) {
            painter.setPen(QPen(look.accent, 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(place.adjusted(-1, -1, 1, 1));
        }
        painter.setFont(look.font(12, true));
        if (!piece.leftOut && QFontMetricsF(painter.font()).horizontalAdvance(piece.size) < place.width() - 6) {
            painter.setPen(look.dark ? look.paper : QColor(Qt::white));
            painter.drawText(place, Qt::AlignCenter, piece.size);
        }
        // Its name below, where the one before leaves room; its size behind a name whose piece has none.
        painter.setFont(look.font(10));
        const QFontMetricsF metrics(painter.font());
        const double from = std::max(place.left(), wordsFrom);
        const double room = (i + 1 < places.size() ? std::max(places[i + 1].left(), from) : all.right()) - from - 4;
        const bool inside = QFontMetricsF(look.font(12, true)).horizontalAdvance(piece.size) < place.width() - 6;
        const QString below = inside ? piece.remark : piece.size + (piece.leftOut ? ", left out" : "");
        const double needed = std::max(metrics.horizontalAdvance(piece.name), metrics.horizontalAdvance(below));
        const bool last = i + 1 == places.size();
        if (room < 24 && !last) continue;
        const double wide = std::min(needed + 2, all.right() - from);
        painter.setPen(look.ink);
        painter.drawText(QRectF(from, place.bottom() + 3, wide, 14), Qt::AlignLeft | Qt::AlignVCenter,
                         metrics.elidedText(piece.name, Qt::ElideRight, wide));
        painter.setPen(look.quiet);
        painter.drawText(QRectF(from, place.bottom() + 17, wide, 14), Qt::AlignLeft | Qt::AlignVCenter,
                         metrics.elidedText(below, Qt::ElideRight, wide));
        wordsFrom = from + needed + 8;
    }
    painter.setPen(look.quiet);
    painter.setFont(look.font(10));
    constexpr double words = 32; // below the pieces
    const QRectF below(QPointF(all.left(), all.bottom() + words), QPointF(all.right(), area.bottom() - 2));
    const int flags = Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap;
    if (painter.boundingRect(below, flags, figure.sum).height() <= below.height())
        painter.drawText(below, flags, figure.sum); // else the tile's head tells what is eaten
    painter.restore();
}

} // namespace fulvex
