#include "run_model.h"

#include "axis_painter.h"
#include "number_text.h"

#include <QPixmap>
#include <algorithm>
#include <set>

namespace fulvex {

RunModel::RunModel(Workbench &bench, QObject *parent) : QAbstractTableModel(parent), m_bench(bench) {}

void RunModel::setRows(std::vector<std::string> rows)
{
    if (rows == m_rows) return;
    m_rows = std::move(rows);
    m_shown.reset();
    refresh();
}

void RunModel::refresh()
{
    const auto &run = m_bench.run();
    if (run && run == m_shown) return;
    beginResetModel();
    m_shown = run;
    m_lines.clear();
    m_told.clear();
    std::set<std::string> known;
    if (run) {
        for (const RunLine &line : run->lines) {
            known.insert(line.capture);
            m_lines.push_back({line, {}, false});
        }
        for (const RunMember &member : run->members) {
            if (known.contains(member.name)) continue;
            Line line{{}, member.leftOut, member.leftOut.empty()};
            line.line.capture = member.name;
            m_lines.push_back(std::move(line));
        }
    }
    m_shared = sharedFolders(m_lines);
    m_sharedEnd = sharedEnding(m_lines);
    for (const std::string &id : m_rows) {
        const Row *row = run && run->all ? findEntry(run->all->rows, id) : nullptr;
        auto &told = m_told.emplace_back();
        if (!row) continue;
        told = Told{std::size_t(row - run->all->rows.data()), text(row->title), row->unit, {}};
        const auto &of = row->statistics;
        if (of.std && *of.std > 0) told->digit = *of.std / 100;
    }
    endResetModel();
}

std::size_t RunModel::sharedFolders(const std::vector<Line> &lines)
{
    if (lines.empty()) return 0;
    const std::string &first = lines.front().line.capture;
    std::size_t shared = first.size();
    for (const Line &line : lines) {
        const std::string &other = line.line.capture;
        const std::size_t both = std::min(shared, other.size());
        shared = std::size_t(std::mismatch(first.begin(), first.begin() + std::ptrdiff_t(both), other.begin()).first -
                             first.begin());
    }
    const std::size_t folder = first.rfind('/', shared > 0 ? shared - 1 : 0);
    return folder == std::string::npos || folder >= shared ? 0 : folder + 1;
}

std::size_t RunModel::sharedEnding(const std::vector<Line> &lines)
{
    if (lines.empty()) return 0;
    const std::string &first = lines.front().line.capture;
    const std::size_t dot = first.rfind('.');
    if (dot == std::string::npos) return 0;
    const std::string ending = first.substr(dot);
    const bool all = std::all_of(lines.begin(), lines.end(), [&](const Line &line) {
        return line.line.capture.ends_with(ending) && line.line.capture.find(", ") == std::string::npos;
    });
    return all && ending.find('/') == std::string::npos && ending.find(' ') == std::string::npos ? ending.size() : 0;
}

int RunModel::rowOf(const std::string &name) const
{
    for (int row = 0; row < rowCount(); ++row)
        if (nameAt(row) == name) return row;
    return -1;
}

QString RunModel::cell(const Line &line, int column) const
{
    const RunLine &of = line.line;
    if (column == capture)
        return text(of.capture.substr(m_shared, std::max(m_shared, of.capture.size() - m_sharedEnd) - m_shared));
    if (column == verdict) {
        if (!line.leftOut.empty()) return tr("left out: %1").arg(text(line.leftOut));
        if (line.waits) return tr("…");
        if (!of.error.empty()) return tr("not read");
        return of.verdict == Verdict::fail ? tr("✕ fail") : of.verdict == Verdict::pass ? tr("✓ pass") : QString("—");
    }
    if (!line.leftOut.empty() || line.waits || !of.error.empty()) return {};
    if (column == failures) return m_bench.document().masks.empty() ? "—" : QString::number(of.failedUnitIntervals);
    if (column == margin) return of.margin ? text(fixedText(*of.margin * 100, 1)) + " %" : "—";
    const std::size_t at = std::size_t(column - firstRow);
    const auto &told = m_told[at];
    if (!told || told->index >= of.values.size()) return {};
    const auto &value = of.values[told->index];
    return value ? text(quantityText(*value, told->unit, told->digit)) : QString("—");
}

QVariant RunModel::data(const QModelIndex &index, int role) const
{
    const Line &line = m_lines[std::size_t(index.row())];
    const RunLine &of = line.line;
    const int column = index.column();
    const Look &look = m_bench.look();
    switch (role) {
    case Qt::DisplayRole:
        return cell(line, column);
    case Qt::DecorationRole: {
        if (column != capture || !m_shown) return {};
        const auto picture = m_shown->pictures.find(of.capture);
        if (picture == m_shown->pictures.end()) return {};
        QPixmap small = QPixmap::fromImage(picture->second);
        small.setDevicePixelRatio(2); // half as large, and as sharp as a screen may be
        return small;
    }
    case Qt::ToolTipRole:
        return !of.error.empty() ? text(of.error) : !line.leftOut.empty() ? text(line.leftOut) : text(of.capture);
    case Qt::TextAlignmentRole:
        return int((column == capture || column == verdict ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    case Qt::ForegroundRole: {
        if (!line.leftOut.empty() || line.waits) return look.quiet;
        const bool rowFails = column >= firstRow && m_told[std::size_t(column - firstRow)] && of.error.empty() &&
                              of.verdicts[m_told[std::size_t(column - firstRow)]->index] == Verdict::fail;
        if (rowFails || (column == verdict && (of.verdict == Verdict::fail || !of.error.empty())) ||
            (column == failures && of.failedUnitIntervals > 0))
            return look.fail;
        if (column == verdict && of.verdict == Verdict::pass) return look.pass;
        return {};
    }
    case sortRole:
        if (column == capture) return text(of.capture);
        if (column == verdict) return index.row(); // the worst first
        if (!line.leftOut.empty() || line.waits || !of.error.empty()) return {};
        if (column == failures) return qlonglong(of.failedUnitIntervals);
        if (column == margin) return of.margin ? QVariant(*of.margin) : QVariant();
        if (const auto &told = m_told[std::size_t(column - firstRow)]; told && told->index < of.values.size())
            return of.values[told->index] ? QVariant(*of.values[told->index]) : QVariant();
        return {};
    default:
        return {};
    }
}

QVariant RunModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole)
        return int((section == capture || section == verdict ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    switch (section) {
    case capture:
        return tr("capture");
    case verdict:
        return tr("verdict");
    case failures:
        return tr("failed UI");
    case margin:
        return tr("margin");
    default:
        break;
    }
    const std::size_t at = std::size_t(section - firstRow);
    return at < m_told.size() && m_told[at] ? m_told[at]->words : text(m_rows[at]);
}

} // namespace fulvex
