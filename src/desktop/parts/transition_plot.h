#pragma once

#include "workbench.h"

#include <QWidget>

namespace fulvex {

/// Which transitions of a signal of several levels occur, and how often: from each level (down, the highest first) to
/// each (across). Codes are told apart by what stays empty.
class TransitionPlot final : public QWidget {
    Q_OBJECT
public:
    TransitionPlot(Workbench &bench, std::string clock, QWidget *parent = nullptr);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    const ClockResult *found() const;
    Workbench &m_bench;
    std::string m_clock;
};

} // namespace fulvex
