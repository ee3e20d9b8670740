#include "ledger_model.h"

#include "axis_painter.h"
#include "described_fields.h"
#include "limit_text.h"
#include "quantity_table.h"
#include "terms.h"

#include <QCoreApplication>
#include <QLineEdit>
#include <algorithm>

namespace fulvex {

namespace {

constexpr LedgerColumn ledgerTable[] = {
    {"quantity", 138, true, true, true, "What is measured"},
    {"of", 84, true, true, true, "Of which channel, clock or eye"},
    {"mean", 148, true, true, false, "Mean of all values, or the one value, with its standard uncertainty"},
    {"uncertainty", 86, false, false, false, "Standard uncertainty of the mean; the Inspector names its parts"},
    {"median", 80, false, false, false, "As many values lie below as above"},
    {"spread", 74, true, false, false, "Standard deviation of the values"},
    {"min", 70, true, false, false, "The least value"},
    {"max", 70, true, false, false, "The greatest value"},
    {"last", 80, false, false, false, "The last value of the record"},
    {"count", 66, true, false, false, "How many values: all of the record or region, whatever is in view"},
    {"all", 120, false, true, false, "The same over all captures of the run"},
    {"all: spread", 74, false, false, false, "Standard deviation over all captures of the run"},
    {"all: min", 70, false, true, false, "The least value of all captures of the run"},
    {"all: max", 70, false, true, false, "The greatest value of all captures of the run"},
    {"all: count", 64, false, true, false, "How many values all captures of the run have"},
    {"limit", 176, true, true, false, "What it has to keep: type it here (F2)"},
    {"verdict", 62, true, false, true, "Whether it keeps its limit"},
    {"all: verdict", 72, false, true, true, "Whether all captures of the run together keep it"},
    {"in view", 150, false, false, false, "Mean of the values that begin in what is in view, and how many they are"},
};

/// Told by shape as well.
QString withMark(const LedgerLine &line)
{
    if (line.state == Verdict::none) return text(line.verdict);
    return (line.state == Verdict::pass ? "✓ " : "✕ ") + text(line.verdict);
}

} // namespace

std::span<const LedgerColumn> ledgerColumns()
{
    return ledgerTable;
}

LedgerModel::LedgerModel(Workbench &bench, QObject *parent)
    : QAbstractTableModel(parent), m_bench(bench), m_extras(bench.figures(), [this] {
          if (!m_lines.empty()) emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
      })
{
    connect(&bench, &Workbench::resultsChanged, this, &LedgerModel::refresh);
    connect(&bench, &Workbench::lookChanged, this, &LedgerModel::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_extras.drop(); });
    connect(&bench, &Workbench::runChanged, this, &LedgerModel::takeRun);
    connect(&bench, &Workbench::sessionBegun, this, &LedgerModel::takeRun);
    connect(&bench, &Workbench::viewChanged, this, [this] {
        if (m_inView) wantExtras();
    });
}

void LedgerModel::takeRun()
{
    m_all.clear();
    const auto &run = m_bench.run();
    if (run && run->all)
        for (const LedgerLine &line : m_wordsOfAll.of(*run->all)) m_all.emplace(line.id, line);
    if (!m_lines.empty())
        emit dataChanged(index(0, LedgerColumn::allMean), index(rowCount() - 1, LedgerColumn::allVerdict));
}

const LedgerLine *LedgerModel::ofAll(const std::string &id) const
{
    const auto found = m_all.find(id);
    return found == m_all.end() ? nullptr : &found->second;
}

void LedgerModel::setGroups(LedgerGroups groups)
{
    m_groups = groups;
    refresh();
}

void LedgerModel::setExtras(bool medians, bool inView)
{
    m_medians = medians;
    m_inView = inView;
    wantExtras();
}

void LedgerModel::wantExtras()
{
    const Results *results = m_bench.results();
    if (!results || (!m_medians && !m_inView)) return;
    LedgerExtras::From from{{}, m_medians, {}};
    if (m_inView) from.view = {m_bench.viewFrom(), m_bench.viewTo()};
    for (const Row &row : results->rows) {
        if (row.measured && row.measurable()) from.rows.push_back({row.id, row.unit, row.measured});
    }
    m_extras.want(from);
}

QString LedgerModel::groupOf(const LedgerLine &line) const
{
    if (m_groups == LedgerGroups::byChannel) {
        const QString of = text(line.of);
        return of.section(QStringLiteral(" · "), 0, 0).section(QStringLiteral(" → "), 0, 0);
    }
    if (line.isMask) return tr("masks");
    const MeasurementEntry *entry = findEntry(m_bench.document().measurements, line.id);
    for (const QuantityGroup &group : quantityGroups()) {
        for (const Quantity &quantity : group.quantities) {
            if (entry && entry->quantity == quantity.name) return tr(group.title);
        }
    }
    return tr("others");
}

void LedgerModel::grouped(std::vector<Shown> &lines) const
{
    QStringList names;
    for (Shown &shown : lines) {
        const QString name = groupOf(shown.line);
        if (!names.contains(name)) names << name;
        shown.group = int(names.indexOf(name));
    }
    std::stable_sort(lines.begin(), lines.end(), [](const Shown &a, const Shown &b) { return a.group < b.group; });
    for (int group = int(names.size()) - 1; group >= 0; --group) {
        const auto first = std::find_if(lines.begin(), lines.end(), [&](const Shown &s) { return s.group == group; });
        Shown heading;
        heading.heading = true;
        heading.group = group;
        heading.line.quantity = names[group].toStdString();
        lines.insert(first, std::move(heading));
    }
}

void LedgerModel::refresh()
{
    std::vector<Shown> lines;
    if (m_bench.results()) {
        for (const LedgerLine &line : m_words.of(*m_bench.results())) lines.push_back({line});
    }
    if (m_groups != LedgerGroups::none) grouped(lines);
    wantExtras();
    const bool sameRows = lines.size() == m_lines.size() &&
                          std::equal(lines.begin(), lines.end(), m_lines.begin(), [](const Shown &a, const Shown &b) {
                              return a.line.id == b.line.id && a.heading == b.heading && a.group == b.group;
                          });
    if (sameRows) {
        const std::vector<Shown> before = std::exchange(m_lines, std::move(lines));
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
    m_headings = int(std::count_if(m_lines.begin(), m_lines.end(), [](const Shown &shown) { return shown.heading; }));
    endResetModel();
}

int LedgerModel::pending() const
{
    return int(std::count_if(m_lines.begin(), m_lines.end(), [](const Shown &shown) { return shown.line.pending; }));
}

int LedgerModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(m_lines.size());
}

int LedgerModel::columnCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(std::size(ledgerTable));
}

QString LedgerModel::cell(const Shown &shown, int column) const
{
    const LedgerLine &line = shown.line;
    if (shown.heading) return column == 0 ? text(line.quantity) : QString();
    const auto extra = [&](const std::map<std::string, std::string> LedgerExtras::*which) {
        if (!m_extras.newest()) return QString();
        const auto &known = (*m_extras.newest()).*which;
        const auto found = known.find(line.id);
        return found == known.end() ? QString("—") : text(found->second);
    };
    const auto all = [&](std::string LedgerLine::*which) {
        const LedgerLine *known = ofAll(line.id);
        return known ? text(known->*which) : hasRun(m_bench.document()) ? QString("…") : QString("—");
    };
    switch (column) {
    case LedgerColumn::allMean:
        return all(&LedgerLine::mean);
    case LedgerColumn::allSpread:
        return all(&LedgerLine::spread);
    case LedgerColumn::allMin:
        return all(&LedgerLine::min);
    case LedgerColumn::allMax:
        return all(&LedgerLine::max);
    case LedgerColumn::allCount:
        return all(&LedgerLine::count);
    case LedgerColumn::allVerdict: {
        const LedgerLine *known = ofAll(line.id);
        return known ? withMark(*known) : QString("—");
    }
    case LedgerColumn::quantity:
        return text(line.quantity);
    case LedgerColumn::of:
        return text(line.of);
    case LedgerColumn::mean:
        return line.reason.empty() || line.isMask ? text(line.mean) : text(line.mean + ": " + line.reason);
    case LedgerColumn::uncertainty:
        return text(line.uncertainty);
    case LedgerColumn::median:
        return extra(&LedgerExtras::median);
    case LedgerColumn::spread:
        return text(line.spread);
    case LedgerColumn::min:
        return text(line.min);
    case LedgerColumn::max:
        return text(line.max);
    case LedgerColumn::last:
        return text(line.last);
    case LedgerColumn::count:
        return text(line.count) + (line.keptOut ? tr(" − %1").arg(line.keptOut) : QString());
    case LedgerColumn::limit:
        return text(line.limit);
    case LedgerColumn::inView:
        return extra(&LedgerExtras::inView);
    default:
        break;
    }
    return withMark(line);
}

QVariant LedgerModel::data(const QModelIndex &index, int role) const
{
    const Shown &shown = m_lines[std::size_t(index.row())];
    const LedgerLine &line = shown.line;
    const Look &look = m_bench.look();
    const bool verdict = index.column() == LedgerColumn::verdict, all = index.column() == LedgerColumn::allVerdict;
    const LedgerLine *together = all ? ofAll(line.id) : nullptr;
    const Verdict state = verdict ? line.state : together ? together->state : Verdict::none;
    switch (role) {
    case Qt::DisplayRole:
        return cell(shown, index.column());
    case Qt::EditRole:
        return line.limit == "—" ? QString() : cell(shown, index.column());
    case Qt::TextAlignmentRole: {
        const bool sentence = shown.heading || (index.column() == LedgerColumn::mean && !line.reason.empty());
        return int((ledgerTable[index.column()].left || sentence ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    }
    case Qt::ToolTipRole:
        if (index.column() == LedgerColumn::count && line.keptOut)
            return tr("%1 moments are kept out, with reasons: see Evidence").arg(line.keptOut);
        if (!line.reason.empty()) return text(line.reason);
        if (index.column() == LedgerColumn::quantity && !shown.heading) {
            const MeasurementEntry *row = findEntry(m_bench.document().measurements, line.id);
            return explained(line.isMask ? "mask" : row ? row->quantity : std::string());
        }
        return {};
    case Qt::ForegroundRole:
        if (state != Verdict::none) return state == Verdict::pass ? look.pass : look.fail;
        if (shown.heading || !line.reason.empty() || line.pending) return look.quiet;
        return {};
    case Qt::FontRole:
        return look.font(12, shown.heading || state == Verdict::fail);
    case Qt::SizeHintRole: // what goes across columns asks for none
        if (shown.heading || (index.column() == LedgerColumn::mean && !line.reason.empty() && !line.isMask))
            return QSize(1, 20);
        return {};
    case groupRole:
        return shown.group;
    case headingRole:
        return shown.heading;
    default:
        return {};
    }
}

QString LedgerModel::reasonAt(int row) const
{
    const Shown &shown = m_lines[std::size_t(row)];
    return shown.line.isMask ? QString() : text(shown.line.reason);
}

Qt::ItemFlags LedgerModel::flags(const QModelIndex &index) const
{
    const Shown &shown = m_lines[std::size_t(index.row())];
    if (shown.heading) return Qt::ItemIsEnabled;
    const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
    return index.column() == LedgerColumn::limit && !shown.line.isMask ? usual | Qt::ItemIsEditable : usual;
}

bool LedgerModel::setData(const QModelIndex &index, const QVariant &value, int role)
{
    if (role != Qt::EditRole || !(flags(index) & Qt::ItemIsEditable)) return false;
    const Shown &shown = m_lines[std::size_t(index.row())];
    const std::string id = shown.line.id, unit = rowsUnit(m_bench, id);
    const QString typed = value.toString();
    if (typed == cell(shown, LedgerColumn::limit)) return true; // nothing was changed
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
    if (role == Qt::DisplayRole)
        return section == LedgerColumn::mean && hasRun(m_bench.document()) ? tr("this one")
                                                                           : tr(ledgerTable[section].words);
    if (role == Qt::ToolTipRole) {
        const char *key = section == LedgerColumn::uncertainty ? "ledger.uncertainty"
                          : section == LedgerColumn::count     ? "ledger.count"
                          : section == LedgerColumn::limit     ? "ledger.limit"
                          : section == LedgerColumn::verdict   ? "ledger.verdict"
                                                               : "";
        return explained(key, tr(ledgerTable[section].tip));
    }
    if (role == Qt::TextAlignmentRole)
        return int((ledgerTable[section].left ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return {};
}

Selection LedgerModel::selectionAt(int row) const
{
    const Shown &shown = m_lines[std::size_t(row)];
    if (shown.heading) return {};
    return {shown.line.isMask ? Selection::Kind::mask : Selection::Kind::measurement, shown.line.id};
}

int LedgerModel::rowOf(const Selection &selection) const
{
    if (selection.kind == Selection::Kind::nothing) return -1;
    for (int row = 0; row < rowCount(); ++row) {
        if (selectionAt(row) == selection) return row;
    }
    return -1;
}

bool LedgerProxy::lessThan(const QModelIndex &left, const QModelIndex &right) const
{
    const auto of = [](const QModelIndex &index, int role) { return index.data(role).toInt(); };
    const bool upward = sortOrder() == Qt::AscendingOrder; // groups keep their order whichever way rows go
    const int a = of(left, LedgerModel::groupRole), b = of(right, LedgerModel::groupRole);
    if (a != b) return (a < b) == upward;
    if (left.data(LedgerModel::headingRole).toBool()) return upward;
    if (right.data(LedgerModel::headingRole).toBool()) return !upward;
    return QSortFilterProxyModel::lessThan(left, right);
}

bool LedgerProxy::filterAcceptsRow(int row, const QModelIndex &parent) const
{
    const QModelIndex at = sourceModel()->index(row, 0, parent);
    if (!at.data(LedgerModel::headingRole).toBool()) return QSortFilterProxyModel::filterAcceptsRow(row, parent);
    const int group = at.data(LedgerModel::groupRole).toInt();
    for (int other = row + 1; other < sourceModel()->rowCount(parent); ++other) {
        if (sourceModel()->index(other, 0, parent).data(LedgerModel::groupRole).toInt() != group) break;
        if (QSortFilterProxyModel::filterAcceptsRow(other, parent)) return true;
    }
    return false;
}

void LimitDelegate::setEditorData(QWidget *editor, const QModelIndex &index) const
{
    const auto *line = qobject_cast<const QLineEdit *>(editor);
    if (!line || !line->isModified()) QStyledItemDelegate::setEditorData(editor, index);
}

} // namespace fulvex
