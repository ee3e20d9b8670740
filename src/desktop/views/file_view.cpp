#include "file_view.h"

#include <QFontDatabase>
#include <QPainter>
#include <QScrollBar>
#include <QStringDecoder>

namespace fulvex {

namespace {

constexpr int rowHeight = 18, margin = 12, bytesPerRow = 16;

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
        for (qsizetype at = 0; at < std::min<qsizetype>(m_head.size(), 1024); at += bytesPerRow) {
            const QByteArray row = m_head.mid(at, bytesPerRow);
            QString letters;
            for (const char c : row) letters += c >= 32 && c < 127 ? QChar(c) : QChar(0xB7);
            m_lines.push_back({QString("%1").arg(at, 4, 16, QChar('0')),
                               QString(row.toHex(' ')).leftJustified(3 * bytesPerRow + 1) + letters, at, row.size()});
        }
        return;
    }
    QStringDecoder decode(isWide(m_head) ? QStringDecoder::Utf16 : QStringDecoder::Utf8);
    const int unit = isWide(m_head) ? 2 : 1;
    const QString words = decode(m_head);
    qsizetype offset = 0;
    int number = 0;
    for (const QString &line : words.split('\n')) {
        const qsizetype bytes = unit == 2 ? 2 * (line.size() + 1) : line.toUtf8().size() + 1;
        m_lines.push_back(
            {QString::number(++number), QString(line).remove('\r').replace('\t', "  →  "), offset, bytes});
        offset += bytes;
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
    const double left = 52, right = viewport()->width() - 30;
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const Line &line = m_lines[i];
        const QRectF row(left, margin + double(i) * rowHeight - verticalScrollBar()->value(), right - left, rowHeight);
        if (row.bottom() < 0 || row.top() > viewport()->height()) continue;
        painter.setFont(m_fixed);
        painter.setPen(m_look->quiet);
        painter.drawText(QRectF(0, row.top(), left - 12, rowHeight), Qt::AlignRight | Qt::AlignVCenter, line.number);
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
                const double letter = QFontMetricsF(m_fixed).horizontalAdvance('0');
                const auto first = double(std::max(from, line.offset) - line.offset),
                           last = double(std::min(to, line.offset + line.length) - line.offset);
                place = QRectF(row.left() + 3 * first * letter - 2, row.top() + 1,
                               (3 * (last - first) - 1) * letter + 4, rowHeight - 2);
            }
            painter.fillRect(place, tint);
            if (!begins) continue;
            painter.setFont(m_look->font(14));
            painter.setPen(m_look->accent);
            painter.drawText(QRectF(right + 4, row.top(), 22, rowHeight), Qt::AlignCenter, badge(int(f)));
        }
        painter.setFont(m_fixed);
        painter.setPen(m_look->ink);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(line.words, Qt::ElideRight, int(row.width())));
    }
}

} // namespace fulvex
