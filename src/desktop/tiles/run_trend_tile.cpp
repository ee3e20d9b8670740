#include "run_trend_tile.h"

#include "axis_painter.h"
#include "number_text.h"

#include <QFileInfo>
#include <QMouseEvent>

namespace fulvex {

RunTrendTile::RunTrendTile(Workbench &bench, int index, QWidget *parent) : RowTile(bench, index, parent)
{
    setObjectName("runTrendTile");
    setMouseTracking(true);
    setToolTip(tr("Each point is a capture of the run, dashed lines are limits, the faint one the mean of all\n"
                  "Click: that capture in all tiles"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::runChanged})
        connect(&bench, changed, this, &RunTrendTile::refresh);
    refresh();
}

void RunTrendTile::refresh()
{
    RunTrendFigure made;
    const auto &run = bench().run();
    if (run && run->all) {
        std::vector<std::string> names;
        for (const RunMember &member : run->members) names.push_back(member.name);
        made = runTrendFigure(*run->all, entryId(), names, bench().shownMember());
    } else {
        made.empty = hasRun(bench().document()) ? tr("Counting…") : tr("Several captures make a trend: take a run.");
    }
    if (made == m_figure) return;
    m_figure = std::move(made);
    update();
}

void RunTrendTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintRunTrend(painter, area, m_figure, bench().look());
}

void RunTrendTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    const auto place = m_figure.placeAt(body(), event->position().x());
    choose();
    if (place && event->position().y() > headHeight && bench().run())
        bench().showMember(bench().run()->members[std::size_t(*place) - 1].name);
}

void RunTrendTile::mouseMoveEvent(QMouseEvent *event)
{
    const auto place = m_figure.placeAt(body(), event->position().x());
    m_words.clear();
    if (place && bench().run()) {
        const auto point = std::find_if(m_figure.points.begin(), m_figure.points.end(),
                                        [&](const auto &one) { return one.place == *place; });
        const QString name = text(bench().run()->members[std::size_t(*place) - 1].name);
        m_words = QFileInfo(name).fileName() + ": " + text(quantityText(point->value, m_figure.unit, {}, 5));
    }
    update();
}

void RunTrendTile::leaveEvent(QEvent *)
{
    m_words.clear();
    update();
}

} // namespace fulvex
