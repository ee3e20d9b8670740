#include "transition_plot.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {
constexpr int margin = 34, rowHeight = 22, foot = 18;
}

TransitionPlot::TransitionPlot(Workbench &bench, std::string clock, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_clock(std::move(clock))
{
    setObjectName("transitions");
    setAccessibleName(tr("Transitions from each level to each"));
    setToolTip(tr("How often the signal goes from each level (down) to each (across); \u2013: never"));
    const auto follow = [this] {
        const ClockResult *result = found();
        const int levels = result ? int(result->levels.size()) : 0;
        setFixedHeight(levels ? foot + levels * rowHeight + 14 : 0);
        update();
    };
    connect(&bench, &Workbench::resultsChanged, this, follow);
    follow();
}

const ClockResult *TransitionPlot::found() const
{
    const ClockResult *result = m_bench.results() ? findEntry(m_bench.results()->clocks, m_clock) : nullptr;
    return result && !result->levels.empty() ? result : nullptr;
}

void TransitionPlot::paintEvent(QPaintEvent *)
{
    const ClockResult *result = found();
    if (!result) return;
    const Look &look = m_bench.look();
    const std::size_t count = result->levels.size();
    const double cell = double(width() - margin - 2) / double(count);
    const double most =
        double(std::max<std::int64_t>(1, *std::max_element(result->transitions.begin(), result->transitions.end())));
    QPainter painter(this);
    painter.setFont(look.font(10));
    const auto words = [&](const QRectF &area, const QString &what, const QColor &ink, int flags = Qt::AlignCenter) {
        painter.setPen(ink);
        painter.drawText(area, flags, what);
    };
    for (std::size_t row = 0; row < count; ++row) {
        const std::size_t from = count - 1 - row;
        const double top = foot + double(row) * rowHeight;
        words({0, top, margin - 8.0, rowHeight}, QString::number(from), look.quiet, Qt::AlignRight | Qt::AlignVCenter);
        for (std::size_t to = 0; to < count; ++to) {
            const std::int64_t times = result->transitions[from * count + to];
            const QRectF area(margin + double(to) * cell, top, cell, rowHeight);
            const double share = times ? 0.1 + 0.4 * std::log1p(double(times)) / std::log1p(most) : 0;
            painter.fillRect(area.adjusted(1, 1, -1, -1), times ? look.density(share) : look.tile);
            const QString number = times < 100000 ? QString::number(times) : QString::number(double(times), 'g', 2);
            words(area, times ? number : QString(QChar(0x2013)), times ? look.ink : look.quiet);
        }
    }
    for (std::size_t to = 0; to < count; ++to)
        words({margin + double(to) * cell, 0, cell, double(foot)}, QString::number(to), look.quiet);
    words({0, 0, margin - 8.0, double(foot)}, tr("to"), look.quiet, Qt::AlignRight | Qt::AlignVCenter);
    words({0, foot + double(count) * rowHeight, margin - 8.0, 14}, tr("from"), look.quiet,
          Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace fulvex
