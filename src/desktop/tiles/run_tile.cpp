#include "run_tile.h"

#include "axis_painter.h"
#include "plain_table.h"
#include "run_actions.h"

#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <algorithm>

namespace fulvex {

namespace {

/// Those that the tile names; of one that names none, rows with a limit, or the first ones.
std::vector<std::string> rowsOf(const Document &document, const TileEntry &tile)
{
    std::vector<std::string> rows;
    for (const std::string &id : tile.of)
        if (findEntry(document.measurements, id)) rows.push_back(id);
    if (!rows.empty()) return rows;
    constexpr std::size_t few = 4;
    for (const bool limited : {true, false}) {
        for (const MeasurementEntry &entry : document.measurements)
            if (entry.limit.isSet() == limited && rows.size() < few) rows.push_back(entry.id);
    }
    return rows;
}

bool isUnlike(const RunSnapshot &run)
{
    if (!run.all) return false;
    const auto says = [](const Finding &finding) { return finding.check == unlikeCaptures; };
    return std::any_of(run.all->clocks.begin(), run.all->clocks.end(), [&](const ClockResult &clock) {
        return std::any_of(clock.findings.begin(), clock.findings.end(), says);
    });
}

} // namespace

RunTile::RunTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::capture), m_model(new RunModel(bench, this)),
      m_proxy(new QSortFilterProxyModel(this))
{
    setObjectName("runTile");
    m_proxy->setSourceModel(m_model);
    m_proxy->setSortRole(RunModel::sortRole);
    m_table = makePlainTable("runTable", m_proxy);
    m_table->setParent(this);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setSortingEnabled(true);
    m_table->sortByColumn(-1, Qt::AscendingOrder);
    m_table->setAutoScroll(false); // the worst stay in sight until another one is stepped to
    m_table->verticalHeader()->setDefaultSectionSize(26);
    m_table->setToolTip(tr("↑ ↓: that capture in all tiles · a click on a heading sorts; the worst come first\n"
                           "Right click: leave it out, or choose columns"));
    m_table->setContextMenuPolicy(Qt::CustomContextMenu);
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_table->horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_table, &QWidget::customContextMenuRequested, this, &RunTile::offer);
    connect(m_table->horizontalHeader(), &QWidget::customContextMenuRequested, this, &RunTile::chooseColumns);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (current.isValid() && !m_following)
                    this->bench().showMember(m_model->nameAt(m_proxy->mapToSource(current).row()));
            });
    for (auto changed : {&Workbench::documentChanged, &Workbench::runChanged})
        connect(&bench, changed, this, &RunTile::refresh);
    refresh();
}

void RunTile::refresh()
{
    m_following = true;
    m_model->setRows(rowsOf(bench().document(), entry()));
    m_model->refresh();
    m_following = false;
    m_table->setVisible(m_model->rowCount() > 0);
    if (m_model->columnCount() > 0) {
        constexpr int wide = 150, usual = 66;
        std::vector<int> widths(std::size_t(m_model->columnCount()), usual);
        widths[RunModel::capture] = wide;
        fitColumns(*m_table, widths);
    }
    follow();
    update();
}

void RunTile::follow()
{
    const std::string shown = bench().shownMember();
    const int row = m_model->rowOf(shown);
    m_following = true;
    if (row >= 0) {
        const QModelIndex at = m_proxy->mapFromSource(m_model->index(row, 0));
        m_table->setCurrentIndex(at);
        if (!m_followed.empty() && m_followed != shown && !bench().live().running()) m_table->scrollTo(at);
        m_followed = shown;
    } else {
        m_table->clearSelection();
    }
    m_following = false;
}

QString RunTile::facts() const
{
    const auto &run = bench().run();
    if (!run) return {};
    const std::size_t out = std::size_t(
        std::count_if(run->members.begin(), run->members.end(), [](const RunMember &m) { return !m.leftOut.empty(); }));
    return tr("%1 of %2 captures counted").arg(run->counted).arg(run->members.size()) +
           (out ? tr(" · %1 left out").arg(out) : QString()) +
           (run->unread ? tr(" · %1 not read").arg(run->unread) : QString()) +
           (isUnlike(*run) ? tr(" · ▲ symbol rates differ: of one thing?") : QString()) +
           (run->ended     ? tr(" · ended")
            : run->working ? tr(" · counting …")
                           : QString());
}

QString RunTile::aside() const
{
    const auto &run = bench().run();
    if (!run || run->counted == 0) return {};
    return run->failed ? tr("%1 failed").arg(run->failed) : tr("none failed");
}

void RunTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (m_model->rowCount() > 0) {
        if (painter.device() != this) m_table->render(&painter, area.topLeft().toPoint());
        return;
    }
    const auto &run = bench().run();
    paintEmpty(painter, area,
               run && !run->error.empty()   ? text(run->error)
               : hasRun(bench().document()) ? tr("No capture is there yet: they are counted as they come.")
                                            : tr("Choose a capture, then Capture → Take files, or a folder, as a run."),
               bench().look());
}

void RunTile::resizeEvent(QResizeEvent *event)
{
    TileFrame::resizeEvent(event);
    m_table->setGeometry(body().toRect().adjusted(2, 0, -2, -8));
}

void RunTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    choose();
}

void RunTile::offer(QPoint at)
{
    const QModelIndex over = m_table->indexAt(at);
    if (!over.isValid()) return;
    const int row = m_proxy->mapToSource(over).row();
    const std::string name = m_model->nameAt(row);
    QMenu menu(this);
    menu.setObjectName("runMenu");
    if (m_model->isLeftOut(row))
        menu.addAction(tr("Count it again"), this, [this, name] { bench().countMember(name); });
    else
        menu.addAction(tr("Leave it out…"), this, [this, name] { askAndLeaveOut(bench(), name, this); });
    menu.exec(m_table->viewport()->mapToGlobal(at));
}

void RunTile::chooseColumns(QPoint at)
{
    QMenu menu(this);
    menu.setObjectName("runColumns");
    for (const MeasurementEntry &one : bench().document().measurements) {
        QAction *action = menu.addAction(nameOf(bench().document(), Selection::Kind::measurement, one.id));
        action->setCheckable(true);
        action->setChecked(std::find(m_model->rows().begin(), m_model->rows().end(), one.id) != m_model->rows().end());
        connect(action, &QAction::triggered, this, [this, id = one.id](bool on) {
            std::vector<std::string> rows = m_model->rows();
            if (on)
                rows.push_back(id);
            else
                std::erase(rows, id);
            bench().change(tr("columns of the run"), [&](Document &document) {
                auto &tiles = document.sheets[std::size_t(bench().sheet())].tiles;
                TileEntry *tile = findEntry(tiles, this->id());
                if (!tile) return;
                std::erase_if(tile->of, [&](const std::string &of) { return findEntry(document.measurements, of); });
                tile->of.insert(tile->of.end(), rows.begin(), rows.end());
            });
        });
    }
    menu.exec(m_table->horizontalHeader()->mapToGlobal(at));
}

} // namespace fulvex
