#include "tile_frame.h"

#include "terms.h"
#include "tile_edits.h"

#include <QHelpEvent>
#include <QToolTip>

namespace fulvex {

TileFrame::TileFrame(Workbench &bench, int index, QWidget *parent, Selection::Kind kind)
    : QWidget(parent), m_bench(bench), m_kind(kind)
{
    const TileEntry &tile = bench.document().sheets[std::size_t(bench.sheet())].tiles[std::size_t(index)];
    m_id = tile.id;
    if (const Term *term = termOf("tile." + tile.kind)) setProperty(manualProperty, term->place());
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(180, 110);
    for (auto changed : {&Workbench::selectionChanged, &Workbench::viewChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, qOverload<>(&QWidget::update));
}

int TileFrame::index() const
{
    const auto &sheets = m_bench.document().sheets;
    if (std::size_t(m_bench.sheet()) >= sheets.size()) return -1;
    const auto &tiles = sheets[std::size_t(m_bench.sheet())].tiles;
    const TileEntry *tile = findEntry(tiles, m_id);
    return tile ? int(tile - tiles.data()) : -1;
}

const TileEntry &TileFrame::entry() const
{
    static const TileEntry none;
    const int at = index();
    return at < 0 ? none : m_bench.document().sheets[std::size_t(m_bench.sheet())].tiles[std::size_t(at)];
}

std::string TileFrame::entryId() const
{
    const TileEntry &tile = entry();
    return tile.of.empty() ? std::string() : tile.of.front();
}

void TileFrame::choose()
{
    if (m_kind != Selection::Kind::nothing && !entryId().empty()) m_bench.select({m_kind, entryId()});
}

bool TileFrame::selected() const
{
    return m_kind != Selection::Kind::nothing && m_bench.selection() == Selection{m_kind, entryId()};
}

void TileFrame::askEvidence(const Question &question)
{
    m_bench.select({m_kind, entryId()}, question);
}

QString TileFrame::ofWhich() const
{
    if (!hasRun(m_bench.document())) return {};
    const std::string &captures = entry().captures;
    const bool any = m_bench.run() && m_bench.run()->counted > 0;
    const std::size_t traces = any ? m_bench.run()->traces.size() : 0;
    if (entry().kind == "traces" && captures == "all" && traces < (any ? m_bench.run()->counted : 0))
        return tr(" of the last %1 of %2").arg(traces).arg(m_bench.run()->counted);
    return captures == "all"      ? (any ? tr(" of all %1").arg(m_bench.run()->counted) : tr(" of all"))
           : captures == "recent" ? tr(", the last fading")
                                  : QString();
}

QRectF TileFrame::body() const
{
    return QRectF(rect()).adjusted(4, headHeight, -4, -4);
}

void TileFrame::paintAll(QPainter &painter)
{
    const Look &look = m_bench.look();
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(selected() ? look.accent : look.hairline, selected() ? 1.6 : 1));
    painter.setBrush(look.tile);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    painter.setFont(look.font(12, true));
    painter.setPen(look.ink);
    const QString heading = QFontMetricsF(painter.font()).elidedText(title(), Qt::ElideRight, width() - 20);
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(heading);
    painter.drawText(QRectF(10, 5, width() - 20, 18), Qt::AlignLeft | Qt::AlignVCenter, heading);
    painter.setFont(look.font(11, asideFails()));
    painter.setPen(asideFails() ? look.fail : look.quiet);
    const QFontMetricsF metrics(painter.font());
    const QString beside = metrics.elidedText(aside(), Qt::ElideRight, std::max(0.0, width() - 36 - wide));
    const double right = metrics.horizontalAdvance(beside);
    painter.drawText(QRectF(10, 5, width() - 20, 18), Qt::AlignRight | Qt::AlignVCenter, beside);
    painter.setFont(look.font(11));
    painter.setPen(look.quiet);
    const double room = width() - 20 - wide - right - 24;
    if (room > 30)
        painter.drawText(QRectF(18 + wide, 5, room, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(facts(), Qt::ElideRight, room));
    paintBody(painter, body());
}

bool TileFrame::event(QEvent *event)
{
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    if (help->pos().y() >= headHeight || index() < 0) return QWidget::event(event);
    QToolTip::showText(help->globalPos(), explained("tile." + entry().kind, tr("Drag: move the tile")), this);
    return true;
}

void TileFrame::paintEvent(QPaintEvent *)
{
    const QString name = (title().isEmpty() ? QString::fromStdString(entry().kind) : title()) + " " + facts();
    if (accessibleName() != name) setAccessibleName(name);
    QPainter painter(this);
    paintAll(painter);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(m_bench.look().quiet, 1)); // the corner that it is sized by
    for (const int in : {4, 7}) painter.drawLine(width() - in - 2, height() - 4, width() - 4, height() - in - 2);
}

QImage TileFrame::picture()
{
    QImage image(size() * 2, QImage::Format_RGB32);
    image.fill(m_bench.look().paper);
    QPainter painter(&image);
    painter.scale(2, 2);
    paintAll(painter);
    return image;
}

void TileFrame::takePicture(std::function<void(const QImage &)> take)
{
    const QImage asItIs = picture(); // and asks for what is not drawn yet
    m_bench.figures().afterwards(
        [tile = QPointer(this), asItIs, take = std::move(take)] { take(tile ? tile->picture() : asItIs); });
}

void TileFrame::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        choose();
    else if (event->key() == Qt::Key_Delete)
        removeTile(m_bench, m_id);
    else
        QWidget::keyPressEvent(event);
}

void TileFrame::contextMenuEvent(QContextMenuEvent *event)
{
    emit contextRequested(m_id, event->globalPos());
}

} // namespace fulvex
