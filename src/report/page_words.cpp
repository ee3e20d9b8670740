#include "page_words.h"

#include <QTextOption>
#include <algorithm>

namespace fulvex {

PageWords::PageWords(const QString &words, const QFont &font, double width, Qt::Alignment alignment)
    : m_layout(std::make_shared<QTextLayout>(words, font))
{
    QTextOption option(alignment);
    option.setWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
    option.setUseDesignMetrics(true);
    m_layout->setTextOption(option);
    m_layout->beginLayout();
    for (;;) {
        QTextLine line = m_layout->createLine();
        if (!line.isValid()) break;
        line.setLineWidth(std::max(width, 1.0));
        line.setPosition({0, m_height});
        m_height += line.height();
        m_width = std::max(m_width, line.naturalTextWidth());
    }
    m_layout->endLayout();
}

void PageWords::paint(QPainter &painter, QPointF at, const QColor &colour) const
{
    painter.setPen(colour);
    m_layout->draw(&painter, at);
}

void PageWords::paintLine(QPainter &painter, int line, QPointF at, const QColor &colour) const
{
    const QTextLine its = m_layout->lineAt(line);
    painter.setPen(colour);
    its.draw(&painter, at - QPointF(0, its.y()));
}

double PageWords::widthOf(const QString &words, const QFont &font)
{
    constexpr double any = 1e6;
    return PageWords(words, font, any).width();
}

double PageWords::longestOf(const QString &words, const QFont &font)
{
    double longest = 0;
    qsizetype from = 0;
    for (qsizetype to = 0; to <= words.size(); ++to) {
        if (to < words.size() && words[to] != ' ' && words[to] != QChar(0x200B)) continue;
        longest = std::max(longest, widthOf(words.mid(from, to - from), font));
        from = to + 1;
    }
    return longest;
}

QString shortened(const QString &words, qsizetype letters)
{
    return words.size() <= letters ? words : words.left(letters) + QChar(0x2026);
}

QString breakable(const QString &cell)
{
    constexpr qsizetype longest = 24, group = 16; // letters
    QString words;
    qsizetype run = 0;
    for (qsizetype i = 0; i < cell.size(); ++i) {
        const QChar c = cell[i];
        const bool betweenDigits = c == QChar(0x2009), beforeUnit = c == ' ' && i > 0 && cell[i - 1].isDigit() &&
                                                                    i + 1 < cell.size() && cell[i + 1] != QChar(0x2026);
        words += betweenDigits ? QChar(0x202F) : beforeUnit ? QChar(0x00A0) : c;
        run = c.isSpace() ? 0 : run + 1;
        const bool path = c == '/' || c == ',' || c == ';';
        if (path || (run >= longest && run % group == 0)) words += QChar(0x200B);
    }
    return words;
}

} // namespace fulvex
