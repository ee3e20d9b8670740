#include "manual_window.h"

#include "manual_index.h"

#include <QAbstractTextDocumentLayout>
#include <QDesktopServices>
#include <QFile>
#include <QHeaderView>
#include <QImageReader>
#include <QKeyEvent>
#include <QPushButton>
#include <QScrollBar>
#include <QSplitter>
#include <QTextBlock>
#include <QTextTable>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

static constexpr double readableWidth = 780; ///< pixels, that an eye finds its way back across

ManualPage::ManualPage(QWidget *parent) : QTextBrowser(parent), m_look(Look::light())
{
    setObjectName("manualPage");
    setAccessibleName(tr("Manual"));
    setOpenLinks(false);
    setFrameShape(QFrame::NoFrame);
    connect(this, &QTextBrowser::anchorClicked, this, [this](const QUrl &link) {
        const QString where = link.toString();
        if (link.scheme().startsWith("http")) return void(QDesktopServices::openUrl(link));
        open(where.startsWith('#') ? m_file + where : where);
    });
}

void ManualPage::setLook(const Look &look)
{
    m_look = look;
    if (m_file.isEmpty()) return;
    const int at = verticalScrollBar()->value();
    load(m_file);
    verticalScrollBar()->setValue(at);
}

void ManualPage::open(const QString &place)
{
    if (!m_place.isEmpty() && m_place != place) m_before << m_place;
    show(place);
}

bool ManualPage::goBack()
{
    if (m_before.isEmpty()) return false;
    show(m_before.takeLast());
    return true;
}

void ManualPage::show(const QString &place)
{
    const QString file = place.section('#', 0, 0), anchor = place.section('#', 1);
    if (file != m_file) load(file);
    m_place = place;
    scrollTo(anchor);
    emit opened(place);
}

void ManualPage::scrollTo(const QString &anchor)
{
    int to = 0;
    for (QTextBlock block = document()->begin(); block.isValid() && !anchor.isEmpty(); block = block.next())
        if (block.blockFormat().headingLevel() > 0 && anchorOf(block.text()) == anchor) {
            to = int(document()->documentLayout()->blockBoundingRect(block).top()) - 6;
            break;
        }
    verticalScrollBar()->setValue(to);
    m_leftAt = verticalScrollBar()->value();
}

QString ManualPage::heading() const
{
    QString last;
    const double top = verticalScrollBar()->value() + 12;
    for (QTextBlock block = document()->begin(); block.isValid(); block = block.next()) {
        if (block.blockFormat().headingLevel() == 0) continue;
        if (document()->documentLayout()->blockBoundingRect(block).top() > top) break;
        last = block.text();
    }
    return last;
}

void ManualPage::load(const QString &name)
{
    m_file = name;
    QFile file(manualFolder() + "/" + name);
    const bool known = !name.contains('/') && file.open(QIODevice::ReadOnly);
    // Shown once it is dressed: what is shown is laid out after each change, which takes seconds.
    auto *fresh = new QTextDocument(this);
    fresh->setDefaultFont(m_look.font(13));
    fresh->setMarkdown(known ? QString::fromUtf8(file.readAll())
                             : tr("# Not here\n\n%1 is no part of the installed manual.").arg(name));
    dress(*fresh);
    const QPointer<QTextDocument> before = document();
    setDocument(fresh);
    delete before; // where the view has not done so itself
}

void ManualPage::dress(QTextDocument &whole)
{
    QTextCursor all(&whole);
    all.beginEditBlock();
    const double side = std::max(28.0, (viewport()->width() - readableWidth) / 2);
    QTextFrameFormat page = whole.rootFrame()->frameFormat();
    page.setLeftMargin(side);
    page.setRightMargin(side);
    page.setTopMargin(18);
    page.setBottomMargin(60);
    whole.rootFrame()->setFrameFormat(page);
    QTextCursor cursor(&whole);
    for (QTextBlock block = whole.begin(); block.isValid(); block = block.next()) {
        QTextBlockFormat format = block.blockFormat();
        const int level = format.headingLevel();
        const bool inTable = QTextCursor(block).currentTable() != nullptr;
        format.setLineHeight(level ? 110 : inTable ? 120 : 138, QTextBlockFormat::ProportionalHeight);
        if (!inTable) {
            format.setTopMargin(level == 1 ? 6 : level == 2 ? 30 : level ? 18 : 0);
            format.setBottomMargin(level ? 6 : block.textList() ? 4 : 9);
        }
        cursor.setPosition(block.position());
        cursor.setBlockFormat(format);
        cursor.movePosition(QTextCursor::EndOfBlock, QTextCursor::KeepAnchor);
        QTextCharFormat words;
        words.setForeground(m_look.ink);
        if (level > 0) {
            words.setFont(m_look.font(level == 1 ? 26 : level == 2 ? 19 : 14.5, true));
            cursor.mergeCharFormat(words);
            continue;
        }
        std::vector<QTextFragment> fragments; // what is changed moves what comes behind
        for (auto piece = block.begin(); !piece.atEnd(); ++piece) fragments.push_back(piece.fragment());
        for (const QTextFragment &fragment : fragments) {
            QTextCharFormat own = fragment.charFormat();
            if (own.isImageFormat()) {
                QTextImageFormat image = own.toImageFormat();
                const QSizeF picture = QImageReader(manualFolder() + "/" + image.name()).size(); // read when it is seen
                const double room = std::min(readableWidth, viewport()->width() - 2 * side);
                image.setWidth(std::min(room, picture.width()));
                image.setHeight(picture.height() * image.width() / std::max(1.0, picture.width()));
                format.setLineHeight(0, QTextBlockFormat::SingleHeight); // no part of a picture's height more
                cursor.setPosition(block.position());
                cursor.setBlockFormat(format);
                cursor.setPosition(fragment.position());
                cursor.setPosition(fragment.position() + fragment.length(), QTextCursor::KeepAnchor);
                cursor.setCharFormat(image);
                continue;
            }
            own.setForeground(own.isAnchor() ? m_look.trace(0) : m_look.ink);
            if (own.fontFixedPitch()) own.setBackground(m_look.panel);
            cursor.setPosition(fragment.position());
            cursor.setPosition(fragment.position() + fragment.length(), QTextCursor::KeepAnchor);
            cursor.setCharFormat(own);
        }
    }
    for (QTextFrame *frame : whole.rootFrame()->childFrames())
        if (auto *table = qobject_cast<QTextTable *>(frame)) {
            QTextTableFormat format = table->format();
            format.setBorderCollapse(true);
            format.setBorder(1);
            format.setBorderBrush(m_look.hairline);
            format.setBorderStyle(QTextFrameFormat::BorderStyle_Solid);
            format.setCellPadding(5);
            format.setTopMargin(4);
            format.setBottomMargin(12);
            table->setFormat(format);
        }
    all.endEditBlock();
}

QVariant ManualPage::loadResource(int type, const QUrl &name)
{
    if (type != QTextDocument::ImageResource) return {}; // pages are loaded here, and nothing from elsewhere
    const QString path = name.toString();
    if (path.contains("..")) return {};
    const QImage picture(manualFolder() + "/" + path);
    const int wide = int(readableWidth * devicePixelRatioF()); // a document draws larger ones without smoothing them
    return picture.width() > wide ? picture.scaledToWidth(wide, Qt::SmoothTransformation) : picture;
}

void ManualPage::resizeEvent(QResizeEvent *event)
{
    QTextBrowser::resizeEvent(event);
    if (m_file.isEmpty() || event->size() == event->oldSize()) return;
    // What was at the top stays there, however wide lines are.
    const bool stayed = verticalScrollBar()->value() == m_leftAt;
    const QString at = stayed ? m_place.section('#', 1) : anchorOf(heading());
    if (event->size().width() != event->oldSize().width()) dress(*document());
    if (stayed || event->size().width() != event->oldSize().width()) scrollTo(at);
}

ManualWindow::ManualWindow(QWidget *parent)
    : QWidget(parent, Qt::Window), m_page(new ManualPage), m_search(new QLineEdit), m_contents(new QTreeWidget),
      m_found(new QTreeWidget)
{
    setObjectName("manual");
    setWindowTitle(tr("Manual — Fulvex"));
    auto *whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    auto *split = new QSplitter;
    split->setHandleWidth(1);
    auto *aside = new QWidget;
    aside->setObjectName("manualAside");
    auto *column = new QVBoxLayout(aside);
    column->setContentsMargins(10, 10, 6, 6);
    m_search->setObjectName("manualSearch");
    m_search->setPlaceholderText(tr("How do I …        Ctrl+F"));
    m_search->setClearButtonEnabled(true);
    column->addWidget(m_search);
    for (QTreeWidget *tree : {m_contents, m_found}) {
        tree->setHeaderHidden(true);
        tree->setFrameShape(QFrame::NoFrame);
        tree->setIndentation(14);
        tree->setTextElideMode(Qt::ElideRight);
        column->addWidget(tree, 1);
        const auto go = [this](const QTreeWidgetItem *item) {
            if (item) m_page->open(item->data(0, Qt::UserRole).toString());
        };
        connect(tree, &QTreeWidget::itemClicked, this, go);
        connect(tree, &QTreeWidget::itemActivated, this, go);
    }
    m_contents->setObjectName("manualContents");
    m_contents->setAccessibleName(tr("Contents"));
    m_found->setObjectName("manualFound");
    m_found->setAccessibleName(tr("Found in the manual"));
    m_found->hide();
    split->addWidget(aside);
    split->addWidget(m_page);
    split->setStretchFactor(1, 1);
    split->setSizes({250, 820});
    whole->addWidget(split);
    fillContents();
    connect(m_search, &QLineEdit::textChanged, this, &ManualWindow::search);
    connect(m_search, &QLineEdit::returnPressed, this, [this] {
        if (const QTreeWidgetItem *first = m_found->isVisible() ? m_found->topLevelItem(0) : nullptr)
            m_page->open(first->data(0, Qt::UserRole).toString());
    });
    connect(m_page, &ManualPage::opened, this, [this](const QString &place) {
        for (QTreeWidgetItemIterator each(m_contents); *each; ++each)
            if ((*each)->data(0, Qt::UserRole).toString() == place) {
                m_contents->setCurrentItem(*each);
                m_contents->scrollToItem(*each);
            }
    });
    resize(1080, 760);
}

void ManualWindow::setLook(const Look &look)
{
    m_page->setLook(look);
}

void ManualWindow::open(const QString &place)
{
    show();
    raise();
    activateWindow();
    m_page->open(place);
    m_page->setFocus();
}

void ManualWindow::fillContents()
{
    for (const auto &[file, title] : manualFiles()) {
        std::vector<QTreeWidgetItem *> path;
        for (const ManualSection &section : manualSections()) {
            if (section.file != file) continue;
            const std::size_t depth = std::size_t(std::max(1, section.level)) - 1;
            path.resize(std::min(path.size(), depth));
            auto *item = path.empty() ? new QTreeWidgetItem(m_contents) : new QTreeWidgetItem(path.back());
            item->setText(0, path.empty() ? title : section.title);
            item->setToolTip(0, section.title);
            item->setData(0, Qt::UserRole, section.place());
            path.push_back(item);
        }
    }
    if (QTreeWidgetItem *guide = m_contents->topLevelItem(0)) guide->setExpanded(true);
}

void ManualWindow::search(const QString &typed)
{
    const bool any = !typed.trimmed().isEmpty();
    m_contents->setVisible(!any);
    m_found->setVisible(any);
    m_found->clear();
    if (!any) return;
    constexpr std::size_t most = 40;
    const auto sections = sectionsAbout(typed);
    for (std::size_t i = 0; i < std::min(sections.size(), most); ++i) {
        auto *item = new QTreeWidgetItem(m_found);
        const auto &files = manualFiles();
        const auto file =
            std::ranges::find_if(files, [&](const auto &known) { return known.first == sections[i]->file; });
        item->setText(0, sections[i]->title + (file == files.begin() ? QString() : "  ·  " + file->second));
        item->setToolTip(0, sections[i]->words.left(300));
        item->setData(0, Qt::UserRole, sections[i]->place());
    }
    if (sections.empty()) new QTreeWidgetItem(m_found, {tr("Nothing: try fewer words")});
}

void ManualWindow::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape) {
        m_search->text().isEmpty() ? void(close()) : m_search->clear();
    } else if (event->matches(QKeySequence::Find)) {
        m_search->setFocus();
        m_search->selectAll();
    } else if (event->matches(QKeySequence::Back)) {
        m_page->goBack();
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace fulvex
