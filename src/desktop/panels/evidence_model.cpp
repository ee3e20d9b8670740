#include "evidence_model.h"

#include "axis_painter.h"
#include "evidence_text.h"

namespace fulvex {

EvidenceList evidenceList(const Results &results, const Question &question, Progress &progress)
{
    const Evidence evidence = evidenceFor(results, question, EvidenceList::kept, progress);
    EvidenceList list;
    list.heading = evidence.title.empty() ? QString("nothing selected") : text(headingOf(evidence));
    list.empty = evidence.none.empty() ? QString("Select a row of the Ledger, an eye or a mask: the moments behind it "
                                                 "appear here, worst first.")
                                       : text(evidence.none);
    const Row *row = findEntry(results.rows, question.id);
    if (row && row->measured && (!row->measured->single || row->measured->counts)) list.row = question.id;
    list.ofUnitIntervals = evidence.of == Evidence::Of::passes || evidence.of == Evidence::Of::failures;
    for (const std::string &column : columnsOf(evidence)) list.columns << text(column);
    for (const Evidence::Item &item : evidence.items) {
        EvidenceList::Item &shown = list.items.emplace_back();
        shown.place = item.place;
        shown.unitInterval = item.unitInterval;
        shown.keptOutBy = item.keptOutBy;
        for (const std::string &cell : cellsOf(evidence, item)) shown.cells << text(cell);
    }
    return list;
}

void EvidenceModel::show(EvidenceList list, const QColor &keptOut)
{
    beginResetModel();
    m_list = std::move(list);
    m_keptOut = keptOut;
    endResetModel();
}

QVariant EvidenceModel::data(const QModelIndex &index, int role) const
{
    if (role == Qt::DisplayRole) return m_list.items[std::size_t(index.row())].cells[index.column()];
    if (role == Qt::TextAlignmentRole)
        return int((index.column() == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    const bool out = !m_list.items[std::size_t(index.row())].keptOutBy.empty();
    if (role == Qt::ForegroundRole && out) return m_keptOut;
    if (role == Qt::ToolTipRole && out) return m_list.items[std::size_t(index.row())].cells.join(" · ");
    return {};
}

QVariant EvidenceModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::DisplayRole) return m_list.columns[section];
    if (role == Qt::TextAlignmentRole) return int((section == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    return {};
}

} // namespace fulvex
