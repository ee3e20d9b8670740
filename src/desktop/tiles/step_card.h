#pragma once

#include "figure_worker.h"
#include "plan_run.h"
#include "slot_box.h"
#include "step_picture.h"

#include <QImage>
#include <QLabel>
#include <QStandardItemModel>
#include <QTableView>

namespace fulvex {

/// "✓ pass", by word and shape.
QString verdictWords(TestVerdict of);

/// One step of a plan: what to do, its captures, its tests as they are judged.
class StepCard final : public QWidget {
    Q_OBJECT
public:
    StepCard(Workbench &bench, const std::string &plan, const std::string &step, QWidget *parent);
    const std::string &step() const { return m_step; }
    const StepOutcome &outcome() const { return m_outcome; } ///< as it is shown
    void refresh();

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    const PlanStep *entry() const;
    void fillSlots(const PlanStep &step, bool asked);
    void fillTests(const PlanStep &step);
    void showPicture(const PlanStep &step);
    QString stateWords(const StepOutcome &outcome, bool working) const;
    QString checkWords() const;
    QString earlierWords() const;
    void askToSkip();
    Workbench &m_bench;
    std::string m_plan, m_step;
    QLabel *m_title, *m_state, *m_text, *m_picture, *m_advice, *m_checks, *m_earlier;
    QWidget *m_boxes;
    std::map<std::string, SlotBox *> m_slots;
    QStandardItemModel *m_model;
    QTableView *m_table;
    QPushButton *m_look, *m_another, *m_repeat, *m_skip;
    StepOutcome m_outcome; ///< as it is shown
    Drawn<StepPicture> m_drawn;
    bool m_asks = false; ///< boxes are shown although the slots are filled
    bool m_filling = false;
};

} // namespace fulvex
