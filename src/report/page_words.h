#pragma once

#include <QColor>
#include <QFont>
#include <QPainter>
#include <QString>
#include <QTextLayout>
#include <memory>

namespace fulvex {

/// Words in lines no wider than `width`, the same at every resolution: glyphs lie where their outlines say, not where
/// pixels are.
class PageWords {
public:
    PageWords(const QString &words, const QFont &font, double width, Qt::Alignment alignment = Qt::AlignLeft);
    double height() const { return m_height; }
    double width() const { return m_width; } ///< of the longest line
    void paint(QPainter &painter, QPointF at, const QColor &colour) const;
    int lines() const { return m_layout->lineCount(); }
    double heightOf(int line) const { return m_layout->lineAt(line).height(); }
    void paintLine(QPainter &painter, int line, QPointF at, const QColor &colour) const;
    /// How wide words are in one line, and the longest of what no line is to break.
    static double widthOf(const QString &words, const QFont &font);
    static double longestOf(const QString &words, const QFont &font);

private:
    std::shared_ptr<QTextLayout> m_layout; // painting changes nothing in it
    double m_height = 0, m_width = 0;
};

/// No more than so many letters, with an ellipsis where some are missing.
QString shortened(const QString &words, qsizetype letters);

/// Words as they may be broken: not within a number or before its unit, but within what no line is long enough for.
QString breakable(const QString &words);

} // namespace fulvex
