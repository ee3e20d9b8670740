#pragma once

#include "workbench.h"

#include <QTableWidget>

namespace fulvex {

/// The lines of phase noise: offset, level, and whether each counts in the integral, to be ticked. Sorted by what its
/// heading is clicked on.
class PhaseNoiseLines final : public QTableWidget {
    Q_OBJECT
public:
    PhaseNoiseLines(Workbench &bench, const std::string &phaseNoise, QWidget *parent = nullptr);

private:
    void refresh();
    void take(QTableWidgetItem *item);
    void choose();
    Workbench &m_bench;
    std::string m_id;
    std::shared_ptr<const PhaseNoise> m_shown;
    PhaseNoiseSpan m_span;
};

} // namespace fulvex
