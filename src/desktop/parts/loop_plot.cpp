#include "loop_plot.h"

#include "function_plot.h"
#include "trend_spectrum.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

LoopPlot::LoopPlot(Workbench &bench, std::string clock, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_clock(std::move(clock))
{
    setFixedHeight(112);
    setObjectName("loopPlot");
    setToolTip(tr("Jitter slower than the bandwidth is followed by the clock, faster is left in the eye. Behind it the "
                  "measured jitter over frequency, and what of it is left"));
    connect(&bench, &Workbench::resultsChanged, this, qOverload<>(&QWidget::update));
    connect(&bench, &Workbench::documentChanged, this, qOverload<>(&QWidget::update));
}

namespace {

/// The highest line of each of so many equal ratios of frequency, as a share of the highest of all over three decades;
/// `left`: what the loop leaves of it.
std::vector<double> heightsOf(const TrendSpectrum &jitter, const AxisScale &x, int columns, const LoopRule *left)
{
    std::vector<double> highest(std::size_t(columns), 0.0);
    double most = 0;
    for (std::size_t line = 1; line < jitter.amplitudes.size(); ++line) {
        const double frequency = double(line) * jitter.step, share = x.shareOf(frequency);
        if (share < 0 || share >= 1) continue;
        most = std::max(most, jitter.amplitudes[line]);
        double &here = highest[std::size_t(share * columns)];
        here = std::max(here, jitter.amplitudes[line] * (left ? left->errorTransfer(frequency) : 1));
    }
    constexpr double decades = 3;
    for (double &height : highest)
        height = height > 0 ? std::clamp(1 + std::log10(height / most) / decades, 0.0, 1.0) : 0;
    return highest;
}

} // namespace

void LoopPlot::paintEvent(QPaintEvent *)
{
    const ClockEntry *entry = findEntry(m_bench.document().clocks, m_clock);
    if (!entry || entry->method != "pll") return;
    const LoopRule rule{entry->order, entry->bandwidth, entry->damping, entry->bandwidthOf == "error"};
    const ClockResult *result = m_bench.results() ? findEntry(m_bench.results()->clocks, m_clock) : nullptr;
    const TrendSpectrum *jitter = result ? result->jitter.get() : nullptr;
    const Look &look = m_bench.look();
    FunctionPlot figure;
    figure.margins = {1, 2, 1, 18};
    figure.yLabels = false;
    const double fastest = result && result->rate > 0 ? result->rate / 2 : 1e8;
    figure.x = {std::min(1e4, rule.bandwidth / 30), std::max(fastest, 30 * rule.bandwidth), "Hz", true};
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
    if (jitter && !jitter->amplitudes.empty()) {
        const int columns = std::max(1, int(plot.width() / 2));
        const auto fill = [&](const LoopRule *by, QColor ink, double strength) {
            ink.setAlphaF(float(strength));
            const std::vector<double> heights = heightsOf(*jitter, figure.x, columns, by);
            for (int i = 0; i < columns; ++i) {
                const double height = heights[std::size_t(i)] * (plot.height() - 16);
                painter.fillRect(QRectF(plot.left() + 2.0 * i, plot.bottom() - height, 2, height), ink);
            }
        };
        fill(nullptr, look.trace(4), 0.25);
        fill(&rule, look.trace(0), 0.45);
    }
    paintPlot(painter, rect(), figure, look);
    painter.setFont(look.font(9));
    painter.setPen(look.words(look.trace(4)));
    painter.drawText(plot.adjusted(5, 2, 0, 0), Qt::AlignLeft | Qt::AlignTop, tr("followed"));
    painter.setPen(look.words(look.trace(0)));
    painter.drawText(plot.adjusted(0, 2, -5, 0), Qt::AlignRight | Qt::AlignTop, tr("left as jitter"));
}

} // namespace fulvex
