#include "wrapped_button.h"

#include <QResizeEvent>
#include <algorithm>

namespace fulvex {

WrappedButton::WrappedButton(const QString &words, QWidget *parent) : QPushButton(words, parent), m_words(words)
{
    setAccessibleName(words);
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

QSize WrappedButton::around() const
{
    return QPushButton::sizeHint() - fontMetrics().size(Qt::TextShowMnemonic, text());
}

QString WrappedButton::linesIn(int width) const
{
    const int room = width - around().width();
    QString lines, line;
    for (const QString &word : m_words.split(' ')) {
        const QString longer = line.isEmpty() ? word : line + " " + word;
        if (line.isEmpty() || fontMetrics().horizontalAdvance(longer) <= room) {
            line = longer;
            continue;
        }
        lines += line + "\n";
        line = word;
    }
    return lines + line;
}

int WrappedButton::heightForWidth(int width) const
{
    return fontMetrics().size(Qt::TextShowMnemonic, linesIn(width)).height() + around().height();
}

QSize WrappedButton::sizeHint() const
{
    return fontMetrics().size(Qt::TextShowMnemonic, m_words) + around();
}

QSize WrappedButton::minimumSizeHint() const
{
    int longest = 0;
    for (const QString &word : m_words.split(' ')) longest = std::max(longest, fontMetrics().horizontalAdvance(word));
    return {longest + around().width(), sizeHint().height()};
}

void WrappedButton::resizeEvent(QResizeEvent *event)
{
    QPushButton::resizeEvent(event);
    wrap();
}

void WrappedButton::changeEvent(QEvent *event)
{
    QPushButton::changeEvent(event);
    if (event->type() == QEvent::FontChange || event->type() == QEvent::StyleChange) wrap();
}

void WrappedButton::wrap()
{
    if (const QString lines = linesIn(width()); lines != text()) setText(lines);
}

} // namespace fulvex
