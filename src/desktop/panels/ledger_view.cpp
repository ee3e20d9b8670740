#include "ledger_view.h"

#include "action.h"
#include "axis_painter.h"
#include "number_text.h"
#include "plain_table.h"
#include "quantity_picker.h"
#include "references.h"

#include <QClipboard>
#include <QMenu>
#include <QMouseEvent>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSettings>
#include <algorithm>

namespace fulvex {

LedgerView::LedgerView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_model(new LedgerModel(bench, this)), m_proxy(new LedgerProxy(this)),
      m_table(makePlainTable("ledgerTable", m_proxy)), m_facts(new QLabel), m_filter(new QLineEdit),
      m_more(new QPushButton)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(2);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 10, 0);
    auto *heading = new QLabel(tr("Ledger"));
    m_table->setAccessibleName(tr("Ledger"));
    heading->setObjectName("heading");
    head->addWidget(heading);
    m_facts->setObjectName("quiet");
    head->addWidget(m_facts);
    head->addStretch();
    m_filter->setObjectName("ledgerFilter");
    m_filter->setPlaceholderText(tr("filter"));
    m_filter->setClearButtonEnabled(true);
    m_filter->setFixedWidth(130);
    head->addWidget(m_filter);
    auto *how = new QPushButton(tr("columns"));
    how->setObjectName("ledgerColumns");
    how->setProperty("small", true);
    how->setToolTip(tr("Which columns are shown, and how rows are grouped"));
    head->addWidget(how);
    connect(how, &QPushButton::clicked, this,
            [this, how] { chooseColumns(how->mapToGlobal(QPoint(0, how->height()))); });
    m_more->setText("+");
    m_more->setObjectName("addRows");
    m_more->setToolTip(tr("Add quantities (Ctrl+M)"));
    m_more->setFixedWidth(35);
    head->addWidget(m_more);
    layout->addLayout(head);
    connect(m_more, &QPushButton::clicked, this,
            [this] { pickQuantities(chosenEntry(m_bench, Selection::Kind::channel)); });

    m_proxy->setSourceModel(m_model);
    m_proxy->setFilterKeyColumn(-1);
    m_proxy->setFilterCaseSensitivity(Qt::CaseInsensitive);
    m_proxy->setSortLocaleAware(true);
    m_table->setSortingEnabled(true);
    m_table->sortByColumn(-1, Qt::AscendingOrder);
    m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_table->setEditTriggers(QAbstractItemView::DoubleClicked);
    m_table->setItemDelegateForColumn(LedgerColumn::limit, new LimitDelegate(m_table));
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
    m_table->horizontalHeader()->setStretchLastSection(true);
    fit();
    connect(m_table->horizontalHeader(), &QHeaderView::sectionResized, this,
            [this](int column) { // the last one stretches by itself
                int last = m_model->columnCount() - 1;
                while (last > 0 && m_table->isColumnHidden(last)) --last;
                m_sizedByHand |= !m_fitting && column != last && !m_table->isColumnHidden(column);
            });
    connect(m_table->verticalScrollBar(), &QScrollBar::valueChanged, this, &LedgerView::fit);
    layout->addWidget(m_table, 1);

    connect(m_filter, &QLineEdit::textChanged, this, [this](const QString &words) {
        m_proxy->setFilterFixedString(words);
        showFacts();
    });
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (!current.isValid()) return;
                const Selection row = m_model->selectionAt(m_proxy->mapToSource(current).row());
                if (row.kind != Selection::Kind::nothing && !(row == m_bench.selection()))
                    m_bench.select(row); // else it is only being followed
            });
    connect(m_table->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { // once it is told whole
        QMetaObject::invokeMethod(this, &LedgerView::tellTogether, Qt::QueuedConnection);
    });
    connect(m_table, &QTableView::clicked, this, [this](const QModelIndex &at) { // all of it, whatever was asked before
        const Selection row = m_model->selectionAt(m_proxy->mapToSource(at).row());
        if (row.kind != Selection::Kind::nothing) m_bench.select(row);
    });
    connect(&bench, &Workbench::resultsChanged, this, &LedgerView::showFacts);
    connect(&bench, &Workbench::resultsChanged, this, [this] {
        span();
        if (m_bench.upToDate()) fit();
    });
    connect(&bench, &Workbench::runChanged, this, &LedgerView::fit);
    connect(m_proxy, &QAbstractItemModel::modelReset, this, &LedgerView::span);
    connect(m_proxy, &QAbstractItemModel::rowsInserted, this, &LedgerView::span);
    connect(m_proxy, &QAbstractItemModel::layoutChanged, this, &LedgerView::span);
    connect(m_proxy, &QAbstractItemModel::rowsRemoved, this, &LedgerView::span);
    connect(&bench, &Workbench::documentChanged, this, &LedgerView::showFacts);
    connect(&bench, &Workbench::documentChanged, this, [this] {
        if (hasRun(m_bench.document()) == m_ofRun) return;
        readColumns();
        m_spans.clear();
        span();
        fit();
    });
    connect(&bench, &Workbench::selectionChanged, this, &LedgerView::followSelection);
    m_table->setMouseTracking(true);
    m_table->viewport()->installEventFilter(this);
    m_table->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_table, &QWidget::customContextMenuRequested, this, [this](QPoint at) {
        const QModelIndex row = m_table->indexAt(at);
        if (row.isValid() && m_model->selectionAt(m_proxy->mapToSource(row).row()).kind != Selection::Kind::nothing)
            emit contextRequested(m_model->selectionAt(m_proxy->mapToSource(row).row()),
                                  m_table->viewport()->mapToGlobal(at));
    });
    auto *remove = new QAction(m_table);
    remove->setShortcut(Qt::Key_Delete);
    remove->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(remove);
    connect(remove, &QAction::triggered, this, [this] {
        std::vector<std::string> ids = m_bench.selectedWith();
        ids.push_back(m_bench.selection().id);
        m_bench.change(ids.size() == 1 ? tr("remove %1").arg(text(ids.front())) : tr("remove %1 rows").arg(ids.size()),
                       [&](Document &document) {
                           for (const std::string &id : ids) removeWithDependents(document, id);
                       });
    });
    auto *limit = new QAction(m_table);
    limit->setShortcuts({Qt::Key_F2, Qt::Key_L});
    limit->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(limit);
    connect(limit, &QAction::triggered, this, [this] {
        const QModelIndex at = m_table->currentIndex().siblingAtColumn(LedgerColumn::limit);
        if (at.isValid() && at.flags() & Qt::ItemIsEditable) m_table->edit(at);
    });
    auto *copyRows = new QAction(m_table);
    copyRows->setShortcut(QKeySequence::Copy);
    copyRows->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(copyRows);
    connect(copyRows, &QAction::triggered, this, [this] { copy(); });
    m_table->horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_table->horizontalHeader(), &QWidget::customContextMenuRequested, this,
            [this](QPoint at) { chooseColumns(m_table->horizontalHeader()->mapToGlobal(at)); });
    readColumns();
    showFacts();
}

void LedgerView::pickQuantities(const std::string &channel)
{
    if (!m_picker) m_picker = new QuantityPicker(m_bench, this);
    m_picker->open(channel, QRect(m_more->mapToGlobal(QPoint(0, 0)), m_more->size()));
}

void LedgerView::showFacts()
{
    const int rows = m_model->lines();
    int failed = 0;
    if (m_bench.results()) {
        const auto fails = [](const auto &one) { return !one.pending && one.verdict == Verdict::fail; };
        for (const Row &row : m_bench.results()->rows) failed += fails(row);
        for (const MaskRun &mask : m_bench.results()->masks) failed += fails(mask);
    }
    const int pending = m_model->pending();
    const QString state = !m_bench.current() ? tr(" · of before the last change")
                          : pending          ? tr(" · %1 being measured").arg(pending)
                                             : QString();
    if (rows == 0) return m_facts->setText(tr("  nothing measured yet: Ctrl+Space, then for example \"rise\""));
    const QString all = rows == 1 ? tr("1 quantity") : tr("%1 quantities").arg(rows);
    const auto ofFilter = [&] {
        int shown = 0; // without the headings of groups
        for (int row = 0; row < m_proxy->rowCount(); ++row) {
            const int line = m_proxy->mapToSource(m_proxy->index(row, 0)).row();
            shown += m_model->selectionAt(line).kind != Selection::Kind::nothing;
        }
        return shown == 0 ? tr("none of %1 has \"%2\"").arg(all, m_filter->text()) : tr("%1 of %2").arg(shown).arg(all);
    };
    m_facts->setText("  " + (m_filter->text().isEmpty() ? all : ofFilter()) + state +
                     (failed ? failed == 1 ? tr(" · 1 fails") : tr(" · %1 fail").arg(failed) : QString()));
}

void LedgerView::fit()
{
    if (m_sizedByHand) return;
    if (std::exchange(m_dropped, dropped()) != m_dropped) readColumns();
    std::vector<int> usual;
    for (const LedgerColumn &column : ledgerColumns()) usual.push_back(column.width);
    m_fitting = true;
    fitColumns(*m_table, usual);
    m_fitting = false;
}

/// Headings go across all columns, reasons over those that have nothing to say.
void LedgerView::span()
{
    std::vector<std::pair<int, bool>> spans; // row, heading
    for (int row = 0; row < m_proxy->rowCount(); ++row) {
        const int source = m_proxy->mapToSource(m_proxy->index(row, 0)).row();
        const bool heading = m_model->selectionAt(source).kind == Selection::Kind::nothing;
        if (heading || !m_model->reasonAt(source).isEmpty()) spans.emplace_back(row, heading);
    }
    if (spans == m_spans) return;
    m_spans = std::move(spans);
    m_table->clearSpans();
    const int end = m_ofRun ? LedgerColumn::allMean : LedgerColumn::limit; // what all captures gave stays to be seen
    for (const auto &[row, heading] : m_spans)
        m_table->setSpan(row, heading ? 0 : LedgerColumn::mean, 1,
                         heading ? m_model->columnCount() : end - LedgerColumn::mean);
}

void LedgerView::tellTogether()
{
    std::vector<std::string> together;
    for (const QModelIndex &at : m_table->selectionModel()->selectedRows()) {
        const Selection row = m_model->selectionAt(m_proxy->mapToSource(at).row());
        if (row.kind == Selection::Kind::measurement && !(row == m_bench.selection())) together.push_back(row.id);
    }
    if (m_bench.selection().kind == Selection::Kind::measurement) m_bench.selectWith(std::move(together));
}

void LedgerView::chooseColumns(QPoint at)
{
    QMenu menu(this);
    menu.setObjectName("ledgerColumnsMenu");
    const std::pair<LedgerGroups, QString> groups[] = {{LedgerGroups::none, tr("in the order they were added")},
                                                       {LedgerGroups::byChannel, tr("by channel")},
                                                       {LedgerGroups::byKind, tr("by kind of quantity")}};
    menu.addSection(tr("Rows"));
    for (const auto &[kind, words] : groups) {
        QAction *action = menu.addAction(words);
        action->setCheckable(true);
        action->setChecked(m_model->groups() == kind);
        connect(action, &QAction::triggered, this, [this, kind = kind] {
            m_model->setGroups(kind);
            keepColumns();
        });
    }
    menu.addSection(tr("Columns"));
    for (int column = 0; column < m_model->columnCount(); ++column) {
        QAction *action = menu.addAction(tr(ledgerColumns()[std::size_t(column)].words));
        action->setCheckable(true);
        action->setChecked(!m_table->isColumnHidden(column));
        action->setEnabled(column != LedgerColumn::quantity); // a row without its name is none
        connect(action, &QAction::triggered, this, [this, column](bool on) {
            m_fitting = true;
            m_table->setColumnHidden(column, !on);
            m_fitting = false;
            keepColumns();
            fit();
        });
    }
    menu.exec(at);
}

void LedgerView::keepColumns()
{
    QStringList shown;
    for (int column = 0; column < m_model->columnCount(); ++column) {
        if (!m_table->isColumnHidden(column)) shown << ledgerColumns()[std::size_t(column)].words;
    }
    QSettings().setValue(m_ofRun ? "ledger/columns_of_runs" : "ledger/columns", shown);
    QSettings().setValue("ledger/groups", int(m_model->groups()));
    m_model->setExtras(!m_table->isColumnHidden(LedgerColumn::median), !m_table->isColumnHidden(LedgerColumn::inView));
}

/// What a narrow table does without, so that limits and verdicts stay in sight: 0 nothing, 1 extremes, 2 the spread
/// too.
int LedgerView::dropped() const
{
    constexpr int withExtremes = 800, withSpread = 740;
    const int room = m_table->viewport()->width();
    return m_ofRun || room >= withExtremes ? 0 : room >= withSpread ? 1 : 2;
}

void LedgerView::readColumns()
{
    m_ofRun = hasRun(m_bench.document());
    const QStringList shown = QSettings().value(m_ofRun ? "ledger/columns_of_runs" : "ledger/columns").toStringList();
    m_fitting = true; // hiding one is no sizing by hand
    for (int column = 0; column < m_model->columnCount(); ++column) {
        const LedgerColumn &known = ledgerColumns()[std::size_t(column)];
        const bool extreme = column == LedgerColumn::min || column == LedgerColumn::max;
        const bool narrow = (m_dropped > 0 && extreme) || (m_dropped > 1 && column == LedgerColumn::spread);
        const bool usual = m_ofRun ? known.shownOfRun : known.shown && !narrow;
        const bool on = shown.isEmpty() ? usual : shown.contains(known.words);
        m_table->setColumnHidden(column, !on && column != LedgerColumn::quantity);
    }
    m_fitting = false;
    m_model->setGroups(LedgerGroups(std::clamp(QSettings().value("ledger/groups").toInt(), 0, 2)));
    m_model->setExtras(!m_table->isColumnHidden(LedgerColumn::median), !m_table->isColumnHidden(LedgerColumn::inView));
}

void LedgerView::followSelection()
{
    const int row = m_model->rowOf(m_bench.selection());
    if (row < 0) {
        m_table->clearSelection();
        m_table->selectionModel()->clearCurrentIndex();
        return;
    }
    const QModelIndex at = m_proxy->mapFromSource(m_model->index(row, 0));
    if (!at.isValid() || m_table->currentIndex().row() == at.row()) return;
    m_table->setCurrentIndex(at);
}

void LedgerView::copy(CopyAs as)
{
    m_bench.whenUpToDate(tr("copying the table"), [this, as] { copyNow(as); });
}

namespace {

QString tableLine(QStringList cells, CopyAs as)
{
    if (as == CopyAs::text) return cells.join('\t');
    const QRegularExpression decimals(QString("(\\d)[%1](\\d)").arg(QChar(numberManner().decimalMark)));
    for (QString &cell : cells) {
        cell.replace(decimals, "\\1.\\2"); // what programs read has points
        if (as == CopyAs::markdown)
            cell.replace('|', "\\|");
        else if (cell.contains(',') || cell.contains('"') || cell.contains('\n'))
            cell = '"' + cell.replace('"', "\"\"") + '"';
    }
    return as == CopyAs::csv ? cells.join(',') : "| " + cells.join(" | ") + " |";
}

} // namespace

void LedgerView::copyNow(CopyAs as) const
{
    std::vector<int> shown;
    for (int column = 0; column < m_model->columnCount(); ++column) {
        if (!m_table->isColumnHidden(column)) shown.push_back(column);
    }
    QModelIndexList chosen = m_table->selectionModel()->selectedRows();
    std::sort(chosen.begin(), chosen.end(),
              [](const QModelIndex &a, const QModelIndex &b) { return a.row() < b.row(); });
    QStringList lines, headings, rulers;
    for (const int column : shown) {
        headings << tr(ledgerColumns()[std::size_t(column)].words);
        rulers << (ledgerColumns()[std::size_t(column)].left ? "---" : "---:");
    }
    lines << tableLine(headings, as);
    if (as == CopyAs::markdown) lines << tableLine(rulers, as);
    const auto add = [&](int row) {
        QStringList cells;
        for (const int column : shown) cells << m_proxy->index(row, column).data().toString();
        const bool heading = m_proxy->index(row, 0).data(LedgerModel::headingRole).toBool();
        if (!heading) lines << tableLine(cells, as);
    };
    if (chosen.size() > 1)
        for (const QModelIndex &index : chosen) add(index.row());
    else
        for (int row = 0; row < m_proxy->rowCount(); ++row) add(row);
    QApplication::clipboard()->setText(lines.join('\n') + "\n");
}

bool LedgerView::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_table->viewport() && event->type() == QEvent::MouseMove) {
        const QModelIndex at = m_table->indexAt(static_cast<QMouseEvent *>(event)->position().toPoint());
        const Selection over = at.isValid() ? m_model->selectionAt(m_proxy->mapToSource(at).row()) : Selection{};
        m_bench.pointAt(over.kind == Selection::Kind::measurement ? over.id : std::string());
    }
    if (watched == m_table->viewport() && event->type() == QEvent::Resize && dropped() != m_dropped)
        QMetaObject::invokeMethod(this, &LedgerView::fit, Qt::QueuedConnection); // not while it is laid out
    if (watched == m_table->viewport() && event->type() == QEvent::Leave) m_bench.pointAt({});
    return QWidget::eventFilter(watched, event);
}

} // namespace fulvex
