#include "budget_tile.h"

#include "budget_edits.h"
#include "run_members.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>

namespace fulvex {

BudgetTile::BudgetTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::budget)
{
    setObjectName("budgetTile");
    setMouseTracking(true);
    m_help = tr("Click a piece: its cause, and the moments behind it · Left and Right: the next piece\n"
                "Space: leaves a line out, or takes it back, and shows what remains");
    setToolTip(m_help);
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::lookChanged, &Workbench::runChanged})
        connect(&bench, changed, this, &BudgetTile::refresh);
    refresh();
}

void BudgetTile::refresh()
{
    if (const auto shown = results())
        m_figure = budgetFigure(*shown, entryId(), bench().look());
    else
        m_figure.empty = tr("Taking jitter apart…");
    const Question &question = bench().question();
    if (question.id == entryId()) m_figure.chosen = question.part;
    update();
}

void BudgetTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintBudget(painter, area, m_figure, bench().look());
}

void BudgetTile::askOf(std::size_t part)
{
    Question question;
    question.part = part;
    question.ofRun = entry().captures != "one" && hasRun(bench().document());
    askEvidence(question);
}

void BudgetTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (event->button() != Qt::LeftButton) return;
    if (const auto part = m_figure.partAt(body(), event->position()))
        askOf(*part);
    else
        choose();
}

void BudgetTile::mouseMoveEvent(QMouseEvent *event)
{
    // What a narrow piece has no room for.
    const auto part = m_figure.partAt(body(), event->position());
    const auto piece = std::find_if(m_figure.pieces.begin(), m_figure.pieces.end(),
                                    [&](const BudgetFigure::Piece &one) { return part == one.part; });
    setToolTip(piece == m_figure.pieces.end()
                   ? m_help
                   : QStringList{piece->name, piece->size, piece->remark}.join(" · ") + "\n" + m_help);
}

void BudgetTile::keyPressEvent(QKeyEvent *event)
{
    const auto count = std::ptrdiff_t(m_figure.pieces.size());
    if (count > 0 && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)) {
        const std::ptrdiff_t by = event->key() == Qt::Key_Left ? -1 : 1;
        const std::ptrdiff_t from = m_figure.chosen ? std::ptrdiff_t(*m_figure.chosen) : by > 0 ? -1 : count;
        return askOf(std::size_t(std::clamp<std::ptrdiff_t>(from + by, 0, count - 1)));
    }
    if (event->key() == Qt::Key_Space && m_figure.chosen) {
        if (!switchLine(bench(), entryId(), *m_figure.chosen))
            emit bench().told(tr("Lines can be left out, and this piece is none."));
        return;
    }
    TileFrame::keyPressEvent(event);
}

BudgetPlotTile::BudgetPlotTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::budget), m_drawn(bench.figures(), [this] { refresh(); })
{
    m_figure.what = budgetPlotOf(entry().kind).value_or(BudgetPlot::bathtub);
    setObjectName(QString::fromStdString(entry().kind) + "Tile");
    setMouseTracking(true);
    if (m_figure.what == BudgetPlot::bathtub)
        setToolTip(
            tr("Solid: counted; dashed: the model\nUnder the pointer: how far the eye is open at that error ratio"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::runChanged})
        connect(&bench, changed, this, &BudgetPlotTile::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

QString BudgetPlotTile::name() const
{
    switch (m_figure.what) {
    case BudgetPlot::bathtub:
        return tr("Bathtub");
    case BudgetPlot::histogram:
        return tr("Histogram and its parts");
    case BudgetPlot::tails:
        return tr("Tails");
    case BudgetPlot::strength:
        return tr("When the line is strong");
    case BudgetPlot::pattern:
        break;
    }
    return tr("Pattern");
}

void BudgetPlotTile::refresh()
{
    const auto ratio = m_figure.ratio;
    if (const auto shown = results())
        m_figure = budgetPlotFigure(*shown, entryId(), m_figure.what);
    else
        m_figure.empty = tr("Taking jitter apart…");
    m_figure.chooseLine(bench().question().id == entryId() ? bench().question().part : std::nullopt);
    m_figure.take(m_drawn.newest());
    m_figure.ratio = ratio;
    if (const auto from = m_figure.drawingFrom(); from && isVisible()) m_drawn.want(*from);
    update();
}

void BudgetPlotTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom()) m_drawn.want(*from);
    paintBudgetPlot(painter, area, m_figure, bench().look());
}

void BudgetPlotTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    choose();
}

void BudgetPlotTile::point(std::optional<double> ratio)
{
    if (m_figure.ratio == ratio) return;
    m_figure.ratio = ratio;
    update();
}

void BudgetPlotTile::mouseMoveEvent(QMouseEvent *event)
{
    point(m_figure.ratioAt(body(), event->position().y()));
}

void BudgetPlotTile::leaveEvent(QEvent *)
{
    point({});
}

} // namespace fulvex
