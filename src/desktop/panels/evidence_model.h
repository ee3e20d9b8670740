#pragma once

#include "evidence.h"

#include <QAbstractTableModel>
#include <QStringList>

namespace fulvex {

/// Evidence in words, as a table shows it.
struct EvidenceList {
    QString heading, empty;
    QStringList columns;
    struct Item {
        QStringList cells;
        RecordSpan place;              ///< as long as nothing: it has none
        std::int64_t unitInterval = 0; ///< of an eye
        std::string keptOutBy;         ///< id of what keeps it out of the numbers; empty: it counts
    };
    bool ofUnitIntervals = false; ///< of an eye
    std::string row;              ///< id, of a measurement's occurrences, which can be kept out
    std::vector<Item> items;
    static constexpr std::size_t kept = 1000;
};

/// The same; without a question, what to ask. Not for the interface thread.
EvidenceList evidenceList(const Results &results, const Question &question, Progress &progress);

class EvidenceModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(EvidenceList list, const QColor &keptOut);
    const EvidenceList &list() const { return m_list; }
    int rowCount(const QModelIndex &parent = {}) const override
    {
        return parent.isValid() ? 0 : int(m_list.items.size());
    }
    int columnCount(const QModelIndex &parent = {}) const override
    {
        return parent.isValid() ? 0 : int(m_list.columns.size());
    }
    QVariant data(const QModelIndex &index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    EvidenceList m_list;
    QColor m_keptOut;
};

} // namespace fulvex
