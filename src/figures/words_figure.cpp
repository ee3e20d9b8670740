#include "words_figure.h"

#include <QAbstractTextDocumentLayout>
#include <QRegularExpression>
#include <QTextBlock>
#include <QTextCursor>
#include <QTextDocument>
#include <memory>

namespace fulvex {

namespace {

constexpr double inset = 12;

std::unique_ptr<QTextDocument> laidOut(const WordsFigure &figure, double width, const Look &look)
{
    auto document = std::make_unique<QTextDocument>();
    document->setDefaultFont(look.font(13));
    document->setDocumentMargin(0);
    document->setMarkdown(figure.words, QTextDocument::MarkdownDialectCommonMark);
    document->setTextWidth(std::max(40.0, width - 2 * inset));
    QTextCursor cursor(document.get());
    for (QTextBlock block = document->begin(); block.isValid(); block = block.next()) {
        const int level = block.blockFormat().headingLevel();
        QTextBlockFormat format = block.blockFormat();
        format.setLineHeight(level ? 110 : 128, QTextBlockFormat::ProportionalHeight);
        format.setTopMargin(level && block.position() > 0 ? 10 : 0);
        format.setBottomMargin(level ? 5 : 6);
        cursor.setPosition(block.position());
        cursor.setBlockFormat(format);
        std::vector<QTextFragment> fragments;
        for (auto piece = block.begin(); !piece.atEnd(); ++piece) fragments.push_back(piece.fragment());
        for (const QTextFragment &fragment : fragments) {
            QTextCharFormat own = fragment.charFormat();
            if (level) own.setFont(look.font(level == 1 ? 19 : 15, true));
            own.setForeground(own.isAnchor() ? look.trace(0) : look.ink);
            cursor.setPosition(fragment.position());
            cursor.setPosition(fragment.position() + fragment.length(), QTextCursor::KeepAnchor);
            cursor.setCharFormat(own);
        }
    }
    return document;
}

} // namespace

QString WordsFigure::title() const
{
    static const QRegularExpression marks("[#*_`>]|\\[([^\\]]*)\\]\\([^)]*\\)");
    const QString first = words.trimmed().section('\n', 0, 0);
    return QString(first).replace(marks, "\\1").trimmed().left(80);
}

double WordsFigure::heightAt(double width, const Look &look) const
{
    return laidOut(*this, width, look)->size().height() + 2 * inset;
}

QString WordsFigure::linkAt(const QRectF &area, const QPointF &place, const Look &look) const
{
    return laidOut(*this, area.width(), look)
        ->documentLayout()
        ->anchorAt(place - area.topLeft() - QPointF(inset, inset - scrolled));
}

void paintWords(QPainter &painter, const QRectF &area, const WordsFigure &figure, const Look &look)
{
    painter.save();
    painter.setClipRect(area, Qt::IntersectClip);
    painter.translate(area.topLeft() + QPointF(inset, inset - figure.scrolled));
    QAbstractTextDocumentLayout::PaintContext context;
    context.palette.setColor(QPalette::Text, look.ink);
    const auto document = laidOut(figure, area.width(), look);
    document->documentLayout()->draw(&painter, context);
    painter.restore();
    const double whole = document->size().height() + 2 * inset;
    if (whole <= area.height()) return;
    // There is more: where of it one is.
    const QRectF handle(area.right() - 5, area.top() + area.height() * figure.scrolled / whole, 3,
                        area.height() * area.height() / whole);
    painter.fillRect(handle, look.quiet);
}

} // namespace fulvex
