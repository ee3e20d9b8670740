#include "words_tile.h"

#include "axis_painter.h"
#include "quiet_label.h"
#include "tile_edits.h"

#include <QDialog>
#include <QDialogButtonBox>
#include <QLabel>
#include <QMouseEvent>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace fulvex {

WordsTile::WordsTile(Workbench &bench, int index, QWidget *parent) : TileFrame(bench, index, parent)
{
    setObjectName("wordsTile");
    setMouseTracking(true);
    setToolTip(tr("Double click or F2: write · a click on a link shows that sheet"));
    connect(&bench, &Workbench::documentChanged, this, &WordsTile::refresh);
    refresh();
}

void WordsTile::refresh()
{
    if (index() < 0) return;
    WordsFigure now{text(entry().words)};
    if (now.words.isEmpty()) now.words = tr("*Double click, or F2, and write what others have to know of this sheet.*");
    now.scrolled = m_figure.scrolled;
    if (now == m_figure) return;
    m_figure = std::move(now);
    scrollTo(m_figure.scrolled);
    setAccessibleDescription(m_figure.words);
    update();
}

QRectF WordsTile::page() const
{
    return body().adjusted(0, -headHeight / 2, 0, 0); // nothing else is written up there
}

void WordsTile::paintBody(QPainter &painter, const QRectF &)
{
    paintWords(painter, page(), m_figure, bench().look());
}

QString WordsTile::linkAt(const QPointF &place) const
{
    return page().contains(place) ? m_figure.linkAt(page(), place, bench().look()) : QString();
}

void WordsTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    const std::string sheet = linkAt(event->position()).mid(1).toStdString();
    const auto &sheets = bench().document().sheets;
    const auto found = std::ranges::find(sheets, sheet, &SheetEntry::id);
    if (event->button() == Qt::LeftButton && found != sheets.end()) bench().showSheet(int(found - sheets.begin()));
}

void WordsTile::mouseMoveEvent(QMouseEvent *event)
{
    setCursor(linkAt(event->position()).isEmpty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
}

void WordsTile::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (event->position().y() > headHeight) editWords(bench(), id(), window());
}

void WordsTile::scrollTo(double pixels)
{
    const double most = std::max(0.0, m_figure.heightAt(page().width(), bench().look()) - page().height());
    m_figure.scrolled = std::clamp(pixels, 0.0, most);
    update();
}

void WordsTile::wheelEvent(QWheelEvent *event)
{
    scrollTo(m_figure.scrolled - event->angleDelta().y() / 2.0);
}

void WordsTile::resizeEvent(QResizeEvent *event)
{
    TileFrame::resizeEvent(event);
    scrollTo(m_figure.scrolled);
}

void WordsTile::keyPressEvent(QKeyEvent *event)
{
    constexpr double line = 24, overlap = 30;
    const std::pair<int, double> moves[] = {{Qt::Key_Down, line},
                                            {Qt::Key_Up, -line},
                                            {Qt::Key_PageDown, page().height() - overlap},
                                            {Qt::Key_PageUp, overlap - page().height()}};
    for (const auto &[key, by] : moves)
        if (event->key() == key) return scrollTo(m_figure.scrolled + by);
    if (event->key() == Qt::Key_F2 || event->key() == Qt::Key_Return)
        editWords(bench(), id(), window());
    else
        TileFrame::keyPressEvent(event);
}

bool WordsTile::event(QEvent *event)
{
    // F2 is the Chain's wherever no words have the focus.
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent *>(event)->key() == Qt::Key_F2)
        event->accept();
    return TileFrame::event(event);
}

void editWords(Workbench &bench, const std::string &tile, QWidget *window)
{
    const TileEntry *now = tileIn(bench.document(), tile);
    if (!now) return;
    QDialog dialog(window);
    dialog.setObjectName("wordsDialog");
    dialog.setWindowTitle(QObject::tr("Words on the sheet"));
    auto *layout = new QVBoxLayout(&dialog);
    QStringList links;
    for (const SheetEntry &sheet : bench.document().sheets)
        links << QString("[%1](#%2)").arg(text(sheet.title), text(sheet.id));
    auto *help = quietLabel(QObject::tr("Markdown: # heading, *stress*, - list. A link to a sheet: %1")
                                .arg(links.isEmpty() ? QString("[title](#id)") : links.back()));
    help->setWordWrap(true);
    layout->addWidget(help);
    auto *words = new QPlainTextEdit(text(now->words));
    words->setObjectName("wordsText");
    words->setTabChangesFocus(true);
    layout->addWidget(words, 1);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    QObject::connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
    QObject::connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
    layout->addWidget(buttons);
    dialog.resize(620, 420);
    words->setFocus();
    if (dialog.exec() != QDialog::Accepted) return;
    editTile(bench, tile, QObject::tr("write on the sheet"),
             [&](TileEntry &entry) { entry.words = words->toPlainText().trimmed().toStdString(); });
}

} // namespace fulvex
