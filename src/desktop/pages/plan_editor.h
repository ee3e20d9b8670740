#pragma once

#include "field_table.h"
#include "plan_making.h"
#include "workbench.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTableView>
#include <QUndoStack>

namespace fulvex {

/// A test plan being written: its steps, what each has the operator do, which captures it needs and what these have to
/// be, what is tested. What is wrong with it is said as one types; only a plan that can be worked down is saved.
class PlanEditor final : public QWidget {
    Q_OBJECT
public:
    explicit PlanEditor(Workbench &bench, QWidget *parent = nullptr);
    /// `file`: where it lies; empty: nowhere yet.
    void edit(Plan plan, const QString &file);
    const Plan &plan() const { return m_plan; }
    /// Asks where there are changes that are not saved; false: stay.
    bool mayLeave();
    /// What keeps it from being worked down; empty: nothing.
    QString problem() const;
    /// Asks where, for one that lies nowhere yet; false: it is not saved.
    bool save();

signals:
    void left();
    void saved(const QString &file);

protected:
    bool event(QEvent *event) override; ///< takes undo and redo from the window, which has those of the project
    void keyPressEvent(QKeyEvent *event) override;

private:
    class Step; // on the undo stack
    QWidget *makeAside();
    QWidget *makeStep();
    QTableView *makeTable(FieldTable *model, const char *name);
    QLineEdit *lineFor(const char *name, std::function<std::string &(Plan &)> member);
    QPushButton *button(const QString &words, const char *name, std::function<void()> pressed);
    /// One step that can be undone.
    void change(const QString &what, const std::function<void(Plan &)> &act);
    void changeStep(const QString &what, const std::function<void(PlanStep &, const Document &)> &act);
    void show(const Plan &plan);
    void refresh();
    PlanStep &step(); ///< the chosen one
    const Document &setup();
    std::string unitOf(const PlanTest &test);
    std::vector<std::string> namesFor(const std::string &key);
    void takeSetup();
    void leave();
    Workbench &m_bench;
    Plan m_plan;
    PlanStep m_none;
    Document m_noSetup;
    QString m_file;
    QUndoStack m_undo;
    std::vector<std::pair<QLineEdit *, std::function<std::string &(Plan &)>>> m_lines;
    QListWidget *m_steps;
    QComboBox *m_setup;
    QPlainTextEdit *m_text;
    FieldTable *m_slots, *m_tests;
    QTableView *m_slotTable, *m_testTable;
    QLabel *m_problem;
    QPushButton *m_save;
    bool m_filling = false;
};

} // namespace fulvex
