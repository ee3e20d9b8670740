#pragma once

#include "ledger_model.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>

namespace fulvex {

class QuantityPicker;

enum class CopyAs { text, csv, markdown };

/// One row per measured quantity: sortable, filterable, in groups, with the columns that one chose; its limit is typed
/// in place (a double click, F2 or L). Ctrl+C copies the selected rows (all without a selection) as a table.
class LedgerView final : public QWidget {
    Q_OBJECT
public:
    explicit LedgerView(Workbench &bench, QWidget *parent = nullptr);
    QTableView *table() { return m_table; }
    /// Copies the table of the present document, once its numbers are there.
    void copy(CopyAs as = CopyAs::text);
    /// Opens the quantities to add, of a channel.
    void pickQuantities(const std::string &channel);

signals:
    void contextRequested(const fulvex::Selection &what, QPoint at);

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void copyNow(CopyAs as) const;
    void span();
    void tellTogether();
    void chooseColumns(QPoint at);
    void keepColumns();
    int dropped() const;
    void readColumns();
    void showFacts();
    void fit();
    void followSelection();
    Workbench &m_bench;
    LedgerModel *m_model;
    LedgerProxy *m_proxy;
    QTableView *m_table;
    QLabel *m_facts;
    QLineEdit *m_filter;
    QPushButton *m_more;
    QuantityPicker *m_picker = nullptr;            ///< once it is asked for
    std::vector<std::pair<int, bool>> m_spans;     ///< rows that have cells across columns; of a heading
    bool m_fitting = false, m_sizedByHand = false; ///< columns
    int m_dropped = 0;                             ///< see dropped()
    bool m_ofRun = false;                          ///< columns are those for a run
};

} // namespace fulvex
