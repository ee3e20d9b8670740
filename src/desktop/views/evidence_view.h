#pragma once

#include "evidence_list.h"

#include <QAbstractTableModel>
#include <QLabel>
#include <QTableView>

namespace fulvex {

class EvidenceModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(EvidenceList list);
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
};

/// The moments behind what is selected, worst first. Up and Down step through them on the traces, N makes a note there.
class EvidenceView final : public QWidget {
    Q_OBJECT
public:
    explicit EvidenceView(Workbench &bench, QWidget *parent = nullptr);
    QTableView *table() { return m_table; }
    /// Pins a note to the current moment.
    void note();

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void refresh();
    void show(EvidenceList list);
    Workbench &m_bench;
    EvidenceModel *m_model;
    QTableView *m_table;
    QLabel *m_heading, *m_empty, *m_hint;
    int m_request = 0;
    Selection m_shown; ///< that the list was asked for
};

} // namespace fulvex
