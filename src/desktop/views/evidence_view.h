#pragma once

#include "evidence_model.h"
#include "workbench.h"

#include <QLabel>
#include <QTableView>

namespace fulvex {

/// The moments behind what is selected, worst first. Up and Down step through them on the traces, N makes a note there.
class EvidenceView final : public QWidget {
    Q_OBJECT
public:
    explicit EvidenceView(Workbench &bench, QWidget *parent = nullptr);
    ~EvidenceView() override;
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
    int m_request = 0, m_answered = 0;
    Question m_shown;                                                    ///< that the list was asked for
    std::shared_ptr<Progress> m_progress = std::make_shared<Progress>(); ///< of the last request
};

} // namespace fulvex
