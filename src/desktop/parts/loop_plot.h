#pragma once

#include "workbench.h"

#include <QWidget>

namespace fulvex {

/// What a loop follows and what it leaves as jitter, over frequency: |H| and |1 - H|.
class LoopPlot final : public QWidget {
    Q_OBJECT
public:
    LoopPlot(Workbench &bench, std::string clock, QWidget *parent = nullptr);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Workbench &m_bench;
    std::string m_clock;
};

} // namespace fulvex
