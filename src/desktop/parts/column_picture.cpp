#include "column_picture.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace fulvex {

ColumnPicture::ColumnPicture(const std::vector<double> &samples, QColor ink, const Look &look)
    : m_samples(samples), m_ink(ink), m_look(look)
{
    setFixedSize(230, 58);
    setToolTip(tr("its first %1 samples").arg(samples.size()));
}

void ColumnPicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), m_look.paper);
    painter.setRenderHint(QPainter::Antialiasing);
    double low = INFINITY, high = -INFINITY;
    for (const double v : m_samples) {
        if (v == v) low = std::min(low, v), high = std::max(high, v);
    }
    if (!(high >= low)) return;
    const double across = (width() - 8) / double(std::max<std::size_t>(1, m_samples.size() - 1));
    const double up = high > low ? (height() - 10) / (high - low) : 0;
    const auto at = [&](std::size_t i) {
        return QPointF(4 + double(i) * across, up > 0 ? height() - 5 - (m_samples[i] - low) * up : height() / 2.0);
    };
    painter.setPen(QPen(m_ink, 1.3));
    for (std::size_t i = 1; i < m_samples.size(); ++i) {
        if (m_samples[i - 1] == m_samples[i - 1] && m_samples[i] == m_samples[i]) painter.drawLine(at(i - 1), at(i));
    }
}

} // namespace fulvex
