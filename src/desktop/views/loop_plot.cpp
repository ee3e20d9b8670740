#include "loop_plot.h"

#include <cmath>

namespace fulvex {

LoopPlot::LoopPlot(Workbench &bench, std::string clock, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_clock(std::move(clock))
{
    setFixedHeight(92);
    setToolTip(tr("Jitter slower than the bandwidth is followed by the clock, faster is left in the eye"));
    connect(&bench, &Workbench::documentChanged, this, qOverload<>(&QWidget::update));
}

void LoopPlot::paintEvent(QPaintEvent *)
{
    const ClockEntry *entry = findEntry(m_bench.document().clocks, m_clock);
    if (!entry || entry->method != "pll") return;
    const LoopRule rule{entry->order, entry->bandwidth, entry->damping, entry->bandwidthOf == "error"};
    const Look &look = m_bench.look();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    const QRectF plot = QRectF(rect()).adjusted(1, 2, -1, -18);
    painter.setPen(look.hairline);
    painter.setBrush(look.tile);
    painter.drawRect(plot);
    constexpr double low = 1e4, decades = 4;
    QPainterPath followed, left;
    for (int x = 0; x <= int(plot.width()); x += 2) {
        const double frequency = low * std::pow(10.0, decades * x / plot.width());
        const auto at = [&](double gain) {
            return QPointF(plot.left() + x, plot.bottom() - std::min(gain, 1.35) / 1.4 * plot.height());
        };
        if (x == 0)
            followed.moveTo(at(rule.jitterTransfer(frequency))), left.moveTo(at(rule.errorTransfer(frequency)));
        else
            followed.lineTo(at(rule.jitterTransfer(frequency))), left.lineTo(at(rule.errorTransfer(frequency)));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look.trace(4), 1.5));
    painter.drawPath(followed);
    painter.setPen(QPen(look.trace(0), 1.5, Qt::DashLine));
    painter.drawPath(left);
    painter.setFont(look.font(9));
    painter.setPen(look.trace(4));
    painter.drawText(plot.adjusted(5, 12, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, tr("followed"));
    painter.setPen(look.trace(0));
    painter.drawText(plot.adjusted(0, 12, -5, 0), Qt::AlignRight | Qt::AlignVCenter, tr("left as jitter"));
    painter.setPen(look.quiet);
    const char *const labels[] = {"10 kHz", "1 MHz", "100 MHz"};
    for (int i = 0; i < 3; ++i)
        painter.drawText(QRectF(plot.left(), plot.bottom() + 3, plot.width(), 12),
                         i == 0   ? Qt::AlignLeft
                         : i == 1 ? Qt::AlignHCenter
                                  : Qt::AlignRight,
                         labels[i]);
}

} // namespace fulvex
