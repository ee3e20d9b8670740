#pragma once

#include "look.h"

#include <QWidget>
#include <vector>

namespace fulvex {

/// A column's first samples in small; gaps stay gaps.
class ColumnPicture final : public QWidget {
public:
    ColumnPicture(const std::vector<double> &samples, QColor ink, const Look &look);

protected:
    void paintEvent(QPaintEvent *) override;

private:
    std::vector<double> m_samples;
    QColor m_ink;
    const Look &m_look;
};

} // namespace fulvex
