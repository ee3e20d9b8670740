#pragma once

#include "evidence_model.h"
#include "workbench.h"

#include <QLabel>
#include <QPushButton>
#include <QTableView>

namespace fulvex {

/// The moments behind what is selected, worst first or by time. Up and Down step through them on the traces; the chosen
/// ones can be noted, named a region, and kept out of a row's numbers.
class EvidenceView final : public QWidget {
    Q_OBJECT
public:
    explicit EvidenceView(Workbench &bench, QWidget *parent = nullptr);
    ~EvidenceView() override;
    QTableView *table() { return m_table; }
    /// Pins a note to the current moment.
    void note();
    /// Names the span of the current moment.
    void nameRegion();
    /// Asks for a reason and keeps the chosen moments out of the row; those that are, it lets back in.
    void keepOutOrIn();

signals:
    void outliersFound(const std::vector<double> &times); ///< s, of the selected row; none: it has none

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void refresh();
    void sayWhich();
    void show(EvidenceList list);
    Workbench &m_bench;
    EvidenceModel *m_model;
    QTableView *m_table;
    QLabel *m_heading, *m_empty;
    QPushButton *m_order, *m_note, *m_region, *m_out, *m_which;
    QWidget *m_doing;
    bool m_byTime = false, m_following = false;
    std::optional<double> m_around;   ///< s, the moment that the list by time is about
    bool m_ofRun = false;             ///< of all captures of a run
    std::optional<RecordSpan> m_next; ///< to go on with once the chosen ones are kept out
    std::vector<EvidenceList::Item> chosenItems() const;
    void sayWhatCanBeDone();
    void stay(const std::optional<RecordSpan> &at);
    void followMoment();
    int m_request = 0, m_answered = 0;
    Question m_shown;                                                    ///< that the list was asked for
    std::shared_ptr<Progress> m_progress = std::make_shared<Progress>(); ///< of the last request
};

} // namespace fulvex
