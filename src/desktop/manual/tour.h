#pragma once

#include "workbench.h"

#include <QFrame>
#include <QLabel>
#include <QMainWindow>
#include <QPointer>
#include <QPushButton>

namespace fulvex {

/// A walk through the demo in six steps, each of which points at a control that is really there and may be used while
/// one reads. Esc leaves it; so does any other project.
class Tour final : public QFrame {
    Q_OBJECT
public:
    /// Of a window that shows the demo; begins at once and deletes itself at its end.
    Tour(QMainWindow *window, Workbench &bench);
    ~Tour() override;
    int step() const { return m_step; }
    static int steps();
    /// What the present step points at; null where it cannot be seen.
    QWidget *target() const;

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    class Ring;
    void go(int step);
    void place(); ///< beside what it points at
    void leave();
    QMainWindow *m_window;
    Workbench &m_bench;
    QPointer<Ring> m_ring;
    QLabel *m_count, *m_title, *m_words;
    QPushButton *m_back, *m_next;
    int m_step = 0;
};

} // namespace fulvex
