#include "loop_plot.h"

#include "function_plot.h"

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
    FunctionPlot figure;
    figure.margins = {1, 2, 1, 18};
    figure.yLabels = false;
    figure.x = {1e4, 1e8, "Hz", true};
    figure.y = {0, 1.4, ""};
    figure.shown = {rule.bandwidth, rule.bandwidth};
    FunctionPlot::Curve followed{{}, {}, 4}, left{{}, {}, 0, FunctionPlot::Curve::As::dashes};
    for (int i = 0; i <= 150; ++i) {
        const double frequency = figure.x.valueAt(i / 150.0);
        for (auto *curve : {&followed, &left}) curve->x.push_back(frequency);
        followed.y.push_back(rule.jitterTransfer(frequency));
        left.y.push_back(rule.errorTransfer(frequency));
    }
    figure.curves = {followed, left};
    QPainter painter(this);
    const QRectF plot = figure.plotRect(rect());
    painter.setPen(look.hairline);
    painter.setBrush(look.tile);
    painter.drawRect(plot);
    paintPlot(painter, rect(), figure, look);
    painter.setFont(look.font(9));
    painter.setPen(look.trace(4));
    painter.drawText(plot.adjusted(5, 12, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, tr("followed"));
    painter.setPen(look.trace(0));
    painter.drawText(plot.adjusted(0, 12, -5, 0), Qt::AlignRight | Qt::AlignVCenter, tr("left as jitter"));
}

} // namespace fulvex
