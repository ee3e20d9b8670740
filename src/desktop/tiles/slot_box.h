#pragma once

#include "plan.h"
#include "workbench.h"

#include <QPushButton>
#include <QWidget>

namespace fulvex {

/// A slot for a capture: files are dropped onto it or chosen; says what is wanted.
class SlotBox final : public QWidget {
    Q_OBJECT
public:
    SlotBox(Workbench &bench, QWidget *parent);
    void ask(const PlanSlot &slot, const std::vector<std::string> &files);

signals:
    void filled(const QStringList &files);
    void liveWanted();

protected:
    void paintEvent(QPaintEvent *event) override;
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dragLeaveEvent(QDragLeaveEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    QSize sizeHint() const override { return {300, 74}; }
    QSize minimumSizeHint() const override { return {200, 74}; }

private:
    void choose();
    Workbench &m_bench;
    QPushButton *m_choose, *m_live;
    QString m_title, m_wanted;
    bool m_over = false; ///< files hang above it
};

} // namespace fulvex
