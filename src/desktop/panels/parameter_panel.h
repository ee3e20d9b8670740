#pragma once

#include "workbench.h"

#include <QWidget>

namespace fulvex {

/// The parameters of the project, each with its value and a slider: what formulas name follows at once. A click on a
/// name selects it for the Inspector. Nothing is there while there are none.
class ParameterPanel final : public QWidget {
    Q_OBJECT
public:
    explicit ParameterPanel(Workbench &bench, QWidget *parent = nullptr);

private:
    void follow();
    void rebuild();
    Workbench &m_bench;
    QWidget *m_rows = nullptr;
    std::vector<std::string> m_shown; ///< ids
    std::vector<std::function<void()>> m_refreshers;
};

} // namespace fulvex
