#pragma once

#include "table_text.h"
#include "workbench.h"

#include <QAbstractTableModel>
#include <QLineEdit>
#include <QSortFilterProxyModel>
#include <QTableView>

namespace fulvex {

class QuantityPicker;

/// The rows of the Ledger as a table model; a mask is a row like any other.
class LedgerModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit LedgerModel(Workbench &bench, QObject *parent);
    int rowCount(const QModelIndex &parent = {}) const override;
    int columnCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;
    /// A limit, as it is typed.
    bool setData(const QModelIndex &index, const QVariant &value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Selection selectionAt(int row) const;
    int pending() const; ///< lines that are not the last word
    int rowOf(const Selection &selection) const;

private:
    void refresh();
    QString cell(const LedgerLine &line, int column) const;
    Workbench &m_bench;
    LedgerLines m_words;
    std::vector<LedgerLine> m_lines;
};

/// One row per measured quantity: sortable, filterable; its limit is typed in place (a double click, F2 or L); Ctrl+C
/// copies the selected rows (all without a selection) as a tab-separated table.
class LedgerView final : public QWidget {
    Q_OBJECT
public:
    explicit LedgerView(Workbench &bench, QWidget *parent = nullptr);
    QTableView *table() { return m_table; }
    /// Copies the table of the present document, once its numbers are there.
    void copy();
    /// Opens the quantities to add, of a channel.
    void pickQuantities(const std::string &channel);

signals:
    void contextRequested(const fulvex::Selection &what, QPoint at);

private:
    void copyNow() const;
    void showFacts();
    void fit();
    void followSelection();
    Workbench &m_bench;
    LedgerModel *m_model;
    QSortFilterProxyModel *m_proxy;
    QTableView *m_table;
    QLabel *m_facts;
    QPushButton *m_more;
    QuantityPicker *m_picker = nullptr;            ///< once it is asked for
    bool m_fitting = false, m_sizedByHand = false; ///< columns
};

} // namespace fulvex
