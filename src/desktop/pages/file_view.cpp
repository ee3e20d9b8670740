#include "file_view.h"

#include "plain_text.h"

#include <QFontDatabase>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QStringDecoder>

namespace fulvex {

namespace {

constexpr int rowHeight = 18, margin = 12, bytesPerRow = 16, numbersWidth = 52, badgesWidth = 30;

bool isWide(const QByteArray &head)
{
    return head.startsWith("\xFF\xFE") || head.startsWith("\xFE\xFF");
}

bool isText(const QByteArray &head)
{
    if (isWide(head)) return true;
    for (const char c : head) {
        if (static_cast<unsigned char>(c) < 32 && c != '\t' && c != '\n' && c != '\r') return false;
    }
    return !head.isEmpty();
}

} // namespace

FileView::FileView(QWidget *parent) : QAbstractScrollArea(parent)
{
    setObjectName("fileView");
    setFrameShape(QFrame::NoFrame);
    m_fixed = QFontDatabase::systemFont(QFontDatabase::FixedFont); // set on no widget: the style sheet has another
    m_fixed.setPixelSize(12);
}

QString FileView::badge(int fact)
{
    return fact < 20 ? QString(QChar(0x2460 + fact)) : QString("(%1)").arg(fact + 1);
}

void FileView::show(const QByteArray &head, std::vector<ReadFact> facts, const Look &look)
{
    m_head = head;
    m_facts = std::move(facts);
    m_look = &look;
    layOut();
    fitBars();
    viewport()->update();
}

void FileView::layOut()
{
    m_lines.clear();
    m_bytes = !isText(m_head);
    if (m_bytes) {
        for (qsizetype at = 0; at < m_head.size(); at += bytesPerRow) {
            const QByteArray row = m_head.mid(at, bytesPerRow);
            QString letters;
            for (const char c : row) letters += c >= 32 && c < 127 ? QChar(c) : QChar(0xB7);
            m_lines.push_back({QString("%1").arg(at, 4, 16, QChar('0')),
                               QString(row.toHex(' ')).leftJustified(3 * bytesPerRow + 1) + letters, at, row.size()});
        }
        return;
    }
    qsizetype offset = 0;
    const auto add = [&](QString words, qsizetype bytes) {
        m_lines.push_back(
            {QString::number(m_lines.size() + 1), words.remove('\r').replace('\t', "  →  "), offset, bytes});
        offset += bytes;
    };
    if (isWide(m_head)) {
        QStringDecoder decode(QStringDecoder::Utf16);
        for (const QString &line : QString(decode(m_head)).split('\n')) add(line, 2 * (line.size() + 1));
        return;
    }
    const bool latin1 = !isUtf8(m_head.toStdString(), true); // as the reader takes it
    for (const QByteArray &line : m_head.split('\n'))
        add(latin1 ? QString::fromStdString(fromLatin1(line.toStdString())) : QString::fromUtf8(line), line.size() + 1);
}

QRectF FileView::rowRect(std::size_t line) const
{
    return {double(numbersWidth), margin + double(line) * rowHeight - verticalScrollBar()->value(),
            double(viewport()->width() - badgesWidth - numbersWidth), double(rowHeight)};
}

QRectF FileView::bytesRect(const QRectF &row, double first, double last) const
{
    const double letter = QFontMetricsF(m_fixed).horizontalAdvance('0');
    return {row.left() + 3 * first * letter - 2, row.top() + 1, (3 * (last - first) - 1) * letter + 4, rowHeight - 2};
}

void FileView::letBeginBeChosen(bool on)
{
    m_choosesBegin = on;
    viewport()->setCursor(on ? Qt::PointingHandCursor : Qt::ArrowCursor);
    viewport()->setToolTip(on ? tr("Click the first byte of the samples: what is before it is a header") : QString());
}

void FileView::mousePressEvent(QMouseEvent *event)
{
    if (!m_choosesBegin || !m_bytes || event->button() != Qt::LeftButton) return;
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const QRectF row = rowRect(i);
        if (event->position().y() < row.top() || event->position().y() >= row.bottom()) continue;
        for (qsizetype at = 0; at < m_lines[i].length; ++at)
            if (bytesRect(row, double(at), double(at) + 1).contains(event->position()))
                emit beginChosen(m_lines[i].offset + at);
    }
}

void FileView::fitBars()
{
    verticalScrollBar()->setRange(0, std::max(0, int(m_lines.size()) * rowHeight + 2 * margin - viewport()->height()));
    verticalScrollBar()->setSingleStep(rowHeight);
    verticalScrollBar()->setPageStep(viewport()->height());
}

void FileView::resizeEvent(QResizeEvent *)
{
    fitBars();
}

void FileView::point(int fact)
{
    m_pointed = fact;
    if (fact >= 0 && fact < int(m_facts.size())) {
        for (std::size_t i = 0; i < m_lines.size(); ++i) {
            if (qsizetype(m_facts[std::size_t(fact)].offset) >= m_lines[i].offset + m_lines[i].length) continue;
            const int y = margin + int(i) * rowHeight;
            QScrollBar *bar = verticalScrollBar();
            if (y < bar->value() || y > bar->value() + viewport()->height() - rowHeight)
                bar->setValue(y - viewport()->height() / 3);
            break;
        }
    }
    viewport()->update();
}

void FileView::paintEvent(QPaintEvent *)
{
    QPainter painter(viewport());
    painter.fillRect(viewport()->rect(), m_look->tile);
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const Line &line = m_lines[i];
        const QRectF row = rowRect(i);
        if (row.bottom() < 0 || row.top() > viewport()->height()) continue;
        painter.setFont(m_fixed);
        painter.setPen(m_look->quiet);
        painter.drawText(QRectF(0, row.top(), row.left() - 12, rowHeight), Qt::AlignRight | Qt::AlignVCenter,
                         line.number);
        for (std::size_t f = 0; f < m_facts.size(); ++f) {
            const ReadFact &fact = m_facts[f];
            const auto from = qsizetype(fact.offset), to = qsizetype(fact.offset + fact.length);
            const bool begins = from >= line.offset && from < line.offset + line.length;
            if (fact.length == 0 || !(m_bytes ? from < line.offset + line.length && to > line.offset : begins))
                continue;
            QColor tint = m_look->accentWash;
            if (int(f) == m_pointed) tint = tint.darker(112);
            QRectF place = row.adjusted(-6, 1, 0, -1);
            if (m_bytes) { // the very bytes
                const auto first = double(std::max(from, line.offset) - line.offset),
                           last = double(std::min(to, line.offset + line.length) - line.offset);
                place = bytesRect(row, first, last);
            }
            painter.fillRect(place, tint);
            if (!begins) continue;
            painter.setFont(m_look->font(14));
            painter.setPen(m_look->accent);
            painter.drawText(QRectF(row.right() + 4, row.top(), 22, rowHeight), Qt::AlignCenter, badge(int(f)));
        }
        painter.setFont(m_fixed);
        painter.setPen(m_look->ink);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(line.words, Qt::ElideRight, int(row.width())));
    }
}

} // namespace fulvex
