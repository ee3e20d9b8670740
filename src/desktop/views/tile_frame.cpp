#include "tile_frame.h"

#include "eye_tile.h"
#include "histogram_tile.h"
#include "trace_tile.h"

namespace fulvex {

TileFrame::TileFrame(Workbench &bench, int index, QWidget *parent) : QWidget(parent), m_bench(bench), m_index(index)
{
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(180, 110);
    for (auto changed :
         {&Workbench::resultsChanged, &Workbench::selectionChanged, &Workbench::viewChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, qOverload<>(&QWidget::update));
}

const TileEntry &TileFrame::entry() const
{
    static const TileEntry none;
    const auto &sheets = m_bench.document().sheets;
    const auto sheet = std::size_t(m_bench.sheet());
    return sheet < sheets.size() && std::size_t(m_index) < sheets[sheet].tiles.size()
               ? sheets[sheet].tiles[std::size_t(m_index)]
               : none;
}

QRectF TileFrame::body() const
{
    return QRectF(rect()).adjusted(4, 26, -4, -4);
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
    const QString heading = title();
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(heading);
    painter.drawText(QRectF(10, 5, width() - 20, 18), Qt::AlignLeft | Qt::AlignVCenter, heading);
    painter.setFont(look.font(11, asideFails()));
    painter.setPen(asideFails() ? look.fail : look.quiet);
    const double right = QFontMetricsF(painter.font()).horizontalAdvance(aside());
    painter.drawText(QRectF(10, 5, width() - 20, 18), Qt::AlignRight | Qt::AlignVCenter, aside());
    painter.setFont(look.font(11));
    painter.setPen(look.quiet);
    const double room = width() - 20 - wide - right - 24;
    if (room > 30)
        painter.drawText(QRectF(18 + wide, 5, room, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(facts(), Qt::ElideRight, room));
    paintBody(painter, body());
}

void TileFrame::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    paintAll(painter);
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

void TileFrame::removeTile()
{
    const int sheet = m_bench.sheet(), index = m_index;
    m_bench.change(tr("remove tile"), [=](Document &document) {
        auto &tiles = document.sheets[std::size_t(sheet)].tiles;
        tiles.erase(tiles.begin() + index);
    });
}

void TileFrame::contextMenuEvent(QContextMenuEvent *event)
{
    QMenu menu(this);
    addToMenu(menu);
    connect(menu.addAction(tr("Export picture…")), &QAction::triggered, this, [this] { emit pictureRequested(this); });
    connect(menu.addAction(tr("Copy picture")), &QAction::triggered, this,
            [this] { QApplication::clipboard()->setImage(picture()); });
    menu.addSeparator();
    connect(menu.addAction(tr("Remove tile")), &QAction::triggered, this, &TileFrame::removeTile);
    menu.exec(event->globalPos());
}

TileFrame *makeTile(Workbench &bench, int index, QWidget *parent)
{
    const auto &tiles = bench.document().sheets[std::size_t(bench.sheet())].tiles;
    const std::string &kind = tiles[std::size_t(index)].kind;
    if (kind == "eye") return new EyeTile(bench, index, parent);
    if (kind == "histogram") return new HistogramTile(bench, index, parent);
    return new TraceTile(bench, index, parent);
}

} // namespace fulvex
