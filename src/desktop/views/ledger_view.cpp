#include "ledger_view.h"

#include "action.h"
#include "axis_painter.h"
#include "described_fields.h"
#include "document_edits.h"
#include "limit_text.h"
#include "plain_table.h"
#include "quantity_picker.h"
#include "references.h"

#include <QClipboard>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <algorithm>

namespace fulvex {

static constexpr int limitColumn = 7;
static const char *const headings[] = {"quantity", "of", "mean", "spread", "min", "max", "count", "limit", "verdict"};

namespace {

/// Results come while a limit is typed: what was typed stays.
class LimitDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void setEditorData(QWidget *editor, const QModelIndex &index) const override
    {
        const auto *line = qobject_cast<const QLineEdit *>(editor);
        if (!line || !line->isModified()) QStyledItemDelegate::setEditorData(editor, index);
    }
};

} // namespace

LedgerModel::LedgerModel(Workbench &bench, QObject *parent) : QAbstractTableModel(parent), m_bench(bench)
{
    connect(&bench, &Workbench::resultsChanged, this, &LedgerModel::refresh);
    connect(&bench, &Workbench::lookChanged, this, &LedgerModel::refresh);
}

void LedgerModel::refresh()
{
    std::vector<LedgerLine> lines;
    if (m_bench.results()) lines = m_words.of(*m_bench.results());
    const bool sameRows =
        lines.size() == m_lines.size() && std::equal(lines.begin(), lines.end(), m_lines.begin(),
                                                     [](const auto &a, const auto &b) { return a.id == b.id; });
    if (sameRows) {
        const std::vector<LedgerLine> before = std::exchange(m_lines, std::move(lines));
        for (int row = 0, end = rowCount(); row < end; ++row) { // runs of rows that are other than before
            const auto same = [&](int at) { return m_lines[std::size_t(at)] == before[std::size_t(at)]; };
            if (same(row)) continue;
            const int first = row;
            while (row + 1 < end && !same(row + 1)) ++row;
            emit dataChanged(index(first, 0), index(row, columnCount() - 1));
        }
        return;
    }
    beginResetModel();
    m_lines = std::move(lines);
    endResetModel();
}

int LedgerModel::pending() const
{
    return int(std::count_if(m_lines.begin(), m_lines.end(), [](const LedgerLine &line) { return line.pending; }));
}

int LedgerModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_lines.size());
}

int LedgerModel::columnCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(std::size(headings));
}

QString LedgerModel::cell(const LedgerLine &line, int column) const
{
    const std::string *cells[] = {&line.quantity, &line.of,    &line.mean,  &line.spread, &line.min,
                                  &line.max,      &line.count, &line.limit, &line.verdict};
    const QString plain = text(*cells[column]);
    if (column != 8 || line.state == Verdict::none) return plain;
    return (line.state == Verdict::pass ? "✓ " : "✕ ") + plain;
}

QVariant LedgerModel::data(const QModelIndex &index, int role) const
{
    const LedgerLine &line = m_lines[std::size_t(index.row())];
    const Look &look = m_bench.look();
    switch (role) {
    case Qt::DisplayRole:
        return cell(line, index.column());
    case Qt::EditRole:
        return line.limit == "—" ? QString() : cell(line, index.column());
    case Qt::TextAlignmentRole:
        return int((index.column() < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    case Qt::ToolTipRole:
        return line.reason.empty() ? QVariant() : QVariant(text(line.reason));
    case Qt::ForegroundRole:
        if (index.column() == 8 && line.state != Verdict::none)
            return line.state == Verdict::pass ? look.pass : look.fail;
        if (!line.reason.empty() || line.pending) return look.quiet;
        return {};
    case Qt::FontRole:
        return look.font(12, index.column() == 8 && line.state == Verdict::fail);
    default:
        return {};
    }
}

Qt::ItemFlags LedgerModel::flags(const QModelIndex &index) const
{
    const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
    const bool mine = index.column() == limitColumn && !m_lines[std::size_t(index.row())].isMask;
    return mine ? usual | Qt::ItemIsEditable : usual;
}

bool LedgerModel::setData(const QModelIndex &index, const QVariant &value, int role)
{
    if (role != Qt::EditRole || !(flags(index) & Qt::ItemIsEditable)) return false;
    const std::string id = m_lines[std::size_t(index.row())].id, unit = rowsUnit(m_bench, id);
    const QString typed = value.toString();
    if (typed == cell(m_lines[std::size_t(index.row())], limitColumn)) return true; // nothing was changed
    const auto limit = parseLimit(typed.toStdString(), unit);
    if (!limit) {
        emit m_bench.failed(tr("\"%1\" is no limit: write \"< 450 %2\", \"> 0.6 %2\", \"0.6 … 1 %2\", with SI prefixes "
                               "as you like, or nothing for none")
                                .arg(typed, text(unit)));
        return false;
    }
    return m_bench.change(tr("limit of %1").arg(text(id)), [&](Document &document) {
        if (MeasurementEntry *entry = findEntry(document.measurements, id)) entry->limit = *limit;
    });
}

QVariant LedgerModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::DisplayRole) return QString(headings[section]);
    if (role == Qt::TextAlignmentRole) return int((section < 2 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return {};
}

Selection LedgerModel::selectionAt(int row) const
{
    const LedgerLine &line = m_lines[std::size_t(row)];
    return {line.isMask ? Selection::Kind::mask : Selection::Kind::measurement, line.id};
}

int LedgerModel::rowOf(const Selection &selection) const
{
    for (int row = 0; row < rowCount(); ++row) {
        if (selectionAt(row) == selection) return row;
    }
    return -1;
}

LedgerView::LedgerView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_model(new LedgerModel(bench, this)), m_proxy(new QSortFilterProxyModel(this)),
      m_table(makePlainTable("ledgerTable", m_proxy)), m_facts(new QLabel), m_more(new QPushButton)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    layout->setSpacing(2);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 10, 0);
    auto *heading = new QLabel(tr("Ledger"));
    heading->setObjectName("heading");
    head->addWidget(heading);
    m_facts->setObjectName("quiet");
    head->addWidget(m_facts);
    head->addStretch();
    auto *filter = new QLineEdit;
    filter->setObjectName("ledgerFilter");
    filter->setPlaceholderText(tr("filter"));
    filter->setClearButtonEnabled(true);
    filter->setFixedWidth(130);
    head->addWidget(filter);
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
    m_table->setItemDelegateForColumn(limitColumn, new LimitDelegate(m_table));
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
    m_table->horizontalHeader()->setStretchLastSection(true);
    fit();
    connect(m_table->horizontalHeader(), &QHeaderView::sectionResized, this,
            [this](int column) { m_sizedByHand |= !m_fitting && column + 1 < m_model->columnCount(); });
    connect(m_table->verticalScrollBar(), &QScrollBar::valueChanged, this, &LedgerView::fit);
    layout->addWidget(m_table, 1);

    connect(filter, &QLineEdit::textChanged, m_proxy, &QSortFilterProxyModel::setFilterFixedString);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (!current.isValid()) return;
                const Selection row = m_model->selectionAt(m_proxy->mapToSource(current).row());
                if (!(row == m_bench.selection())) m_bench.select(row); // else it is only being followed
            });
    connect(m_table, &QTableView::clicked, this, [this](const QModelIndex &at) { // all of it, whatever was asked before
        m_bench.select(m_model->selectionAt(m_proxy->mapToSource(at).row()));
    });
    connect(&bench, &Workbench::resultsChanged, this, &LedgerView::showFacts);
    connect(&bench, &Workbench::resultsChanged, this, [this] {
        if (m_bench.upToDate()) fit();
    });
    connect(&bench, &Workbench::documentChanged, this, &LedgerView::showFacts);
    connect(&bench, &Workbench::selectionChanged, this, &LedgerView::followSelection);
    m_table->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_table, &QWidget::customContextMenuRequested, this, [this](QPoint at) {
        const QModelIndex row = m_table->indexAt(at);
        if (row.isValid())
            emit contextRequested(m_model->selectionAt(m_proxy->mapToSource(row).row()),
                                  m_table->viewport()->mapToGlobal(at));
    });
    auto *remove = new QAction(m_table);
    remove->setShortcut(Qt::Key_Delete);
    remove->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(remove);
    connect(remove, &QAction::triggered, this, [this] {
        const Selection selection = m_bench.selection();
        m_bench.change(tr("remove %1").arg(text(selection.id)),
                       [&](Document &document) { removeWithDependents(document, selection.id); });
    });
    auto *limit = new QAction(m_table);
    limit->setShortcuts({Qt::Key_F2, Qt::Key_L});
    limit->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(limit);
    connect(limit, &QAction::triggered, this, [this] {
        const QModelIndex at = m_table->currentIndex().siblingAtColumn(limitColumn);
        if (at.isValid() && at.flags() & Qt::ItemIsEditable) m_table->edit(at);
    });
    auto *copyRows = new QAction(m_table);
    copyRows->setShortcut(QKeySequence::Copy);
    copyRows->setShortcutContext(Qt::WidgetShortcut);
    m_table->addAction(copyRows);
    connect(copyRows, &QAction::triggered, this, &LedgerView::copy);
    showFacts();
}

void LedgerView::pickQuantities(const std::string &channel)
{
    if (!m_picker) m_picker = new QuantityPicker(m_bench, this);
    m_picker->open(channel, QRect(m_more->mapToGlobal(QPoint(0, 0)), m_more->size()));
}

void LedgerView::showFacts()
{
    const int rows = m_model->rowCount();
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
    if (rows == 0)
        m_facts->setText(tr("  nothing measured yet: Ctrl+Space, then for example \"rise\""));
    else
        m_facts->setText(tr("  %n quantities", nullptr, rows).replace("%n", QString::number(rows)) + state +
                         (failed ? failed == 1 ? tr(" · 1 fails") : tr(" · %1 fail").arg(failed) : QString()));
}

void LedgerView::fit()
{
    if (m_sizedByHand) return;
    static constexpr int usual[] = {138, 84, 148, 74, 70, 70, 66, 176, 62};
    m_fitting = true;
    fitColumns(*m_table, usual);
    m_fitting = false;
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

void LedgerView::copy()
{
    m_bench.whenUpToDate(tr("copying the table"), [this] { copyNow(); });
}

void LedgerView::copyNow() const
{
    QModelIndexList chosen = m_table->selectionModel()->selectedRows();
    std::sort(chosen.begin(), chosen.end(),
              [](const QModelIndex &a, const QModelIndex &b) { return a.row() < b.row(); });
    QStringList lines{QStringList(std::begin(headings), std::end(headings)).join('\t')};
    const auto add = [&](int row) {
        QStringList cells;
        for (int column = 0; column < m_proxy->columnCount(); ++column)
            cells << m_proxy->index(row, column).data().toString();
        lines << cells.join('\t');
    };
    if (chosen.size() > 1)
        for (const QModelIndex &index : chosen) add(index.row());
    else
        for (int row = 0; row < m_proxy->rowCount(); ++row) add(row);
    QApplication::clipboard()->setText(lines.join('\n') + "\n");
}

} // namespace fulvex
