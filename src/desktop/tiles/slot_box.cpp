#include "slot_box.h"

#include "axis_painter.h"
#include "count_words.h"
#include "number_text.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMimeData>
#include <QPainter>

namespace fulvex {

/// What a capture has to be, in one line.
static QString wantedWords(const PlanSlot &slot)
{
    const CaptureWants &w = slot.wants;
    QStringList words;
    const auto least = [&](const std::optional<double> &value, const char *unit) {
        if (value) words << SlotBox::tr("%1 or more").arg(text(quantityText(*value, unit, {}, 3)));
    };
    if (slot.count > 1) words << countOf(slot.count, {}, SlotBox::tr("captures"));
    if (w.channels) words << countOf(*w.channels, SlotBox::tr("channel"), SlotBox::tr("channels"));
    least(w.sampleRate, "Sa/s");
    least(w.length, "s");
    least(w.samples, "samples");
    if (w.symbolRate)
        words << SlotBox::tr("%1 ± %2 ppm")
                     .arg(text(quantityText(*w.symbolRate, "Bd", {}, 4)), text(quantityText(*w.ppm, "", {}, 3)));
    if (w.patternLength) words << SlotBox::tr("pattern of %1").arg(*w.patternLength);
    if (w.levelLeast || w.levelMost)
        words << SlotBox::tr("amplitude %1 to %2")
                     .arg(w.levelLeast ? text(quantityText(*w.levelLeast, "V", {}, 3)) : QString("…"),
                          w.levelMost ? text(quantityText(*w.levelMost, "V", {}, 3)) : QString("…"));
    return words.join(", ");
}

SlotBox::SlotBox(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_choose(new QPushButton(tr("Choose…"), this)),
      m_live(new QPushButton(tr("Acquire…"), this))
{
    m_live->setObjectName("acquireCapture");
    m_live->setToolTip(tr("Takes what is missing from an instrument"));
    m_live->adjustSize();
    connect(m_live, &QPushButton::clicked, this, &SlotBox::liveWanted);
    setAcceptDrops(true);
    m_choose->setObjectName("chooseCapture");
    m_choose->adjustSize();
    connect(m_choose, &QPushButton::clicked, this, &SlotBox::choose);
}

void SlotBox::ask(const PlanSlot &slot, const std::vector<std::string> &files)
{
    setObjectName("slot_" + text(slot.id));
    const QString name = slot.title.empty() ? text(slot.id) : text(slot.title);
    const int missing = slot.count - int(files.size());
    m_title = files.empty() ? tr("Drop a capture here: %1").arg(name)
              : missing > 0 ? tr("Drop %1 more here: %2").arg(missing).arg(name)
                            : tr("Drop another capture here: %1").arg(name);
    const QString wanted = wantedWords(slot);
    m_wanted = wanted.isEmpty() ? QString() : tr("wanted: %1").arg(wanted);
    setToolTip(tr("Files are dropped here, or chosen; what they are is checked at once"));
    update();
}

void SlotBox::choose()
{
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Captures"), {}, tr("All files (*)"));
    if (!files.isEmpty()) emit filled(files);
}

void SlotBox::paintEvent(QPaintEvent *)
{
    const Look &look = m_bench.look();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(m_over ? look.accent : look.quiet, 1, Qt::DashLine));
    painter.setBrush(m_over ? look.accentWash : look.panel);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    const QRectF words(12, 0, m_live->x() - 20, height());
    painter.setFont(look.font(12));
    painter.setPen(look.ink);
    painter.drawText(words.adjusted(0, 14, 0, -height() / 2.0 + 4), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(m_title, Qt::ElideRight, int(words.width())));
    painter.setFont(look.font(11));
    painter.setPen(look.quiet);
    painter.drawText(words.adjusted(0, height() / 2.0 - 4, 0, -14), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(m_wanted, Qt::ElideRight, int(words.width())));
}

void SlotBox::dragEnterEvent(QDragEnterEvent *event)
{
    if (!event->mimeData()->hasUrls()) return;
    event->acceptProposedAction();
    m_over = true;
    update();
}

void SlotBox::dragLeaveEvent(QDragLeaveEvent *)
{
    m_over = false;
    update();
}

void SlotBox::dropEvent(QDropEvent *event)
{
    QStringList files;
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile()) files << url.toLocalFile();
    m_over = false;
    update();
    event->acceptProposedAction();
    if (!files.isEmpty()) emit filled(files);
}

void SlotBox::resizeEvent(QResizeEvent *)
{
    m_choose->move(width() - m_choose->width() - 12, (height() - m_choose->height()) / 2);
    m_live->move(m_choose->x() - m_live->width() - 8, m_choose->y());
}

} // namespace fulvex
