#pragma once

#include "look.h"

#include <QLineEdit>
#include <QTextBrowser>
#include <QTreeWidget>
#include <QWidget>

namespace fulvex {

/// A page of the manual: Markdown of the docs folder in the program's look, pictures as wide as there is room.
class ManualPage final : public QTextBrowser {
    Q_OBJECT
public:
    explicit ManualPage(QWidget *parent = nullptr);
    void setLook(const Look &look);
    /// "guide.md#jitter-taken-apart"; what is not there shows the page's beginning.
    void open(const QString &place);
    QString place() const { return m_place; }
    /// Up to which heading one has read.
    QString heading() const;
    bool goBack();

signals:
    void opened(const QString &place);

protected:
    QVariant loadResource(int type, const QUrl &name) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    void show(const QString &place);
    void scrollTo(const QString &anchor);
    void load(const QString &file);
    void dress(QTextDocument &whole); ///< headings, paragraphs, tables
    Look m_look;
    QString m_file, m_place;
    QStringList m_before;
    int m_leftAt = 0; ///< where the page was scrolled to by a link
};

/// The manual in place: contents and search beside the page. One for the program, beside its window.
class ManualWindow final : public QWidget {
    Q_OBJECT
public:
    explicit ManualWindow(QWidget *parent);
    void setLook(const Look &look);
    void open(const QString &place);
    ManualPage *page() { return m_page; }

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    void fillContents();
    void search(const QString &typed);
    ManualPage *m_page;
    QLineEdit *m_search;
    QTreeWidget *m_contents;
    QTreeWidget *m_found;
};

} // namespace fulvex
